// SPDX-License-Identifier: GPL-3.0-or-later
//
// The library of the specimens bundle: LV2 asks for its effects one index at a time.
#include "all.h"

#include <string>

namespace {

using namespace specimens;

template<class... T>
const LV2_Descriptor* descriptorAt(std::uint32_t index, List<T...>)
{
    static const std::array uris{std::string("urn:honest-rack:specimens:") + T::about.slug...};
    static const auto descriptors = [] {
        std::size_t next = 0;
        return std::array{descriptor<T>(uris[next++].c_str())...};
    }();
    return index < descriptors.size() ? &descriptors[index] : nullptr;
}

} // namespace

LV2_SYMBOL_EXPORT const LV2_Descriptor* lv2_descriptor(std::uint32_t index)
{
    return descriptorAt(index, All{});
}

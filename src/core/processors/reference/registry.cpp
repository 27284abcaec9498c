// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/reference/registry.h"

#include "processors/reference/filters.h"
#include "processors/reference/gain.h"
#include "processors/reference/hard_clip.h"

#include <array>

namespace hr::processors {

namespace {

template<class T>
std::unique_ptr<Processor> make()
{
    return std::make_unique<T>();
}

using Maker = std::unique_ptr<Processor> (*)();
constexpr std::array<std::pair<const char*, Maker>, 4> references{{{"gain", make<Gain>},
                                                                   {"low-pass", make<LowPass>},
                                                                   {"peak-filter", make<PeakFilter>},
                                                                   {"hard-clip", make<HardClip>}}};
constexpr std::string_view prefix = "reference:";

} // namespace

std::unique_ptr<Processor> makeReference(const std::string& id)
{
    for (const auto& [name, maker] : references)
        if (isReferenceId(id) && id.substr(prefix.size()) == name)
            return maker();
    return nullptr;
}

bool isReferenceId(const std::string& id)
{
    return id.starts_with(prefix);
}

std::vector<ProcessorInfo> referenceInfos()
{
    std::vector<ProcessorInfo> infos;
    for (const auto& [name, maker] : references)
        infos.push_back(maker()->info());
    return infos;
}

} // namespace hr::processors

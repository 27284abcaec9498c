// SPDX-License-Identifier: GPL-3.0-or-later
//
// The library of the specimens bundle: LV2 asks for its effects one index at a time.
#include "cordage_leveller.h"
#include "lantern_saturator.h"
#include "stormglass.h"
#include "tidepool_equaliser.h"

namespace {

using namespace specimens;

constexpr std::array effects{descriptor<CordageLeveller>("urn:honest-rack:specimens:cordage-leveller"),
                             descriptor<TidepoolEqualiser>("urn:honest-rack:specimens:tidepool-equaliser"),
                             descriptor<LanternSaturator>("urn:honest-rack:specimens:lantern-saturator"),
                             descriptor<Stormglass>("urn:honest-rack:specimens:stormglass")};

} // namespace

LV2_SYMBOL_EXPORT const LV2_Descriptor* lv2_descriptor(std::uint32_t index)
{
    return index < effects.size() ? &effects[index] : nullptr;
}

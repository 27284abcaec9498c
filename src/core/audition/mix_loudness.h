// SPDX-License-Identifier: GPL-3.0-or-later
//
// How loud a treatment is at any amount of it beside the untreated source, told from one amount of which it is
// known what both have in common: so that the gain can follow the amount while it is being dragged, and not
// only once it has been measured again.
#pragma once

#include "audition/difference.h"

#include <algorithm>
#include <cmath>

namespace hr::audition {

class MixLoudness {
public:
    /// `difference` is that of `mix` from the untreated source. Empty where nothing of the treatment was in it.
    static std::optional<MixLoudness> from(const WetDry& mix, const Difference& difference)
    {
        const double dry = mix.dry;
        const double wet = mix.wet;
        if (wet < least_share * (dry + wet))
            return std::nullopt;
        const double common = (difference.loud_common - dry) / wet;
        const double power =
            (difference.loud_ratio + dry * dry - 2 * dry * difference.loud_common) / (wet * wet);
        return MixLoudness(std::max(power, common * common), common);
    }

    /// Above the untreated source; empty where both cancel.
    std::optional<double> levelDb(const WetDry& mix) const
    {
        const double dry = mix.dry;
        const double wet = mix.wet;
        const double power = dry * dry + wet * wet * m_power + 2 * dry * wet * m_common;
        return power > least_power ? std::optional(10 * std::log10(power)) : std::nullopt;
    }

private:
    /// With less of it the rounding of what was found would decide.
    static constexpr double least_share = 0.02;
    static constexpr double least_power = 1e-7;

    MixLoudness(double power, double common) : m_power(power), m_common(common) {}

    double m_power;  ///< of the treatment alone, through that of the source
    double m_common; ///< of both together, the same
};

} // namespace hr::audition

// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/folding.h"

#include <algorithm>
#include <cmath>

namespace hr::bench {

namespace {

constexpr std::size_t most_parts = 128;

} // namespace

Folded folded(std::span<const double> curve, double curve_rate_hz, double rate_hz)
{
    // Few values a period want few parts, so that every part has some.
    const auto parts = std::clamp<std::size_t>(curve.size() / 8, 8, most_parts);
    Folded fold{std::vector<double>(parts), std::vector<double>(parts)};
    for (std::size_t i = 0; i < curve.size(); ++i) {
        const double turns = static_cast<double>(i) / curve_rate_hz * rate_hz;
        const auto part =
            static_cast<std::size_t>((turns - std::floor(turns)) * static_cast<double>(parts)) % parts;
        fold.sums[part] += curve[i];
        ++fold.counts[part];
    }
    return fold;
}

} // namespace hr::bench

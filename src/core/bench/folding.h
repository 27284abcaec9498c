// SPDX-License-Identifier: GPL-3.0-or-later
//
// The periods of a curve laid on one another.
#pragma once

#include <span>
#include <vector>

namespace hr::bench {

/// Sums of the values in equal parts of the period, and how many there are in each.
struct Folded {
    std::vector<double> sums, counts;
};

/// 8 to 128 parts, fewer where the curve has few values.
Folded folded(std::span<const double> curve, double curve_rate_hz, double rate_hz);

} // namespace hr::bench

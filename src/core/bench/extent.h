// SPDX-License-Identifier: GPL-3.0-or-later
//
// How far a curve that moves goes. Arithmetic only.
#pragma once

#include <optional>
#include <span>

namespace hr::bench {

struct Extent {
    double lowest = 0, highest = 0;
};

/// The mean of all periods, laid on one another, its corners where its flanks meet; without a rate all but the
/// outermost hundredth of the values.
Extent extentOf(std::span<const double> curve, double curve_rate_hz, std::optional<double> rate_hz);
/// All but the outermost `part` of the values at either end.
Extent middleOf(std::span<const double> curve, double part);

} // namespace hr::bench

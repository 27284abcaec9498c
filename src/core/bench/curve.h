// SPDX-License-Identifier: GPL-3.0-or-later
//
// Reading values off the curves of a reading.
#pragma once

#include "bench/reading.h"

#include <algorithm>
#include <cmath>

namespace hr::bench {

using Points = std::vector<std::pair<double, double>>;

/// A straight line between the neighbours of `x`; the ends go on level. `points` must not be empty.
inline double valueAt(const Points& points, double x)
{
    const auto above = std::ranges::lower_bound(points, x, {}, &Points::value_type::first);
    if (above == points.begin())
        return points.front().second;
    if (above == points.end())
        return points.back().second;
    const auto below = above - 1;
    return std::lerp(below->second, above->second, (x - below->first) / (above->first - below->first));
}

/// Null where the reading has no such curve, or an empty one.
inline const Points* pointsOf(const Reading& reading, const char* name)
{
    const auto found = reading.series.find(name);
    return found == reading.series.end() || found->second.points.empty() ? nullptr : &found->second.points;
}

} // namespace hr::bench

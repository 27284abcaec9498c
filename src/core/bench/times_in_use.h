// SPDX-License-Identifier: GPL-3.0-or-later
//
// What "attack" and "release" may mean: the trade counts them to 63 %, to 90 % or from 10 to 90 % of the
// change, on the gain in dB or on the linear gain, and some by the level that the gain is worked out from.
// Arithmetic only.
#pragma once

#include "bench/gain_trace.h"
#include "bench/level_curve.h"

#include <string>
#include <vector>

namespace hr::bench {

struct TimeInUse {
    std::string words; ///< "63 % of the linear gain"
    double ms = 0;
};

/// A step of the level, and the curve that the gain follows, where it is known.
struct LevelStep {
    std::optional<KneeModel> model;
    double from_dbfs = 0, to_dbfs = 0;
};

/// Of a gain that changes after a step, counted from `from_s`. Those in dB come first.
std::vector<TimeInUse> timesInUse(const std::vector<double>& gain_db, const GainChange& change, double from_s,
                                  double rate_hz, const LevelStep& step);

} // namespace hr::bench

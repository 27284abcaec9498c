// SPDX-License-Identifier: GPL-3.0-or-later
//
// What a label may mean: the trade reads "frequency", "attack", "threshold" in more than one way, and whoever
// set the label meant one of them. Arithmetic on what the tests found.
#pragma once

#include "bench/labels.h"
#include "bench/timing.h"

namespace hr::bench {

/// What is known of a processor at one setting.
struct Measured {
    std::map<std::string, Reading> readings; ///< by test
    std::vector<TimeInUse> attack, release;
};

struct ReadingInUse {
    std::string words; ///< "its 63 % of the linear gain"
    double value = 0;  ///< in the unit of the promise's figure
};

/// The figure itself comes first. Empty where nothing may be held against the label: the figure is missing,
/// flagged, or was not seen in full.
std::vector<ReadingInUse> readingsInUse(const Promise& promise, double set, const Measured& measured);

} // namespace hr::bench

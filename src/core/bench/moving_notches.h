// SPDX-License-Identifier: GPL-3.0-or-later
//
// Notches that travel, as those of a phaser or a flanger: the response over time, heard through a sweep that
// repeats every 2048 samples and has all frequencies in equal parts, so that each repeat is one look at it.
// Where looks do not agree, they are taken twice and four times as often: what travels fast is elsewhere at the
// end of a long one.
#pragma once

#include "bench/subject.h"

namespace hr::bench {

struct NotchPaths {
    double step_s = 0;                           ///< from one look to the next
    std::vector<std::vector<double>> notches_hz; ///< at each look, rising
    std::size_t count = 0; ///< that are seen at once, again and again; 0 where looks do not agree
    bool travels = false;  ///< by more than a twentieth of their frequency
    /// The sweep the other way shows them elsewhere: too fast to be told, or no notches but a level that moves.
    bool unsure = false;
};

/// From a fresh start, for `seconds` after 1 s to settle; of the first output.
hosting::FaultOr<NotchPaths> notchPaths(Subject& subject, double level_dbfs, double seconds);

} // namespace hr::bench

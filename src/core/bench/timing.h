// SPDX-License-Identifier: GPL-3.0-or-later
//
// The test `timing`: how fast the gain follows the level. Figures `attack_ms`, `release_ms` (63.2 % of the
// change in dB), `attack_90_ms`, `release_90_ms`, `hold_ms`, `overshoot_db`, `release_depends_on_depth`.
//
// Stimulus: a tone of 1 kHz that steps up across the threshold that `transfer` finds, is held until it has
// settled, and steps down again, until the gain is back; the same once more with a third of the depth.
#pragma once

#include "bench/figure.h"
#include "bench/reading.h"
#include "bench/settled_levels.h"
#include "bench/times_in_use.h"

namespace hr::bench {

const std::vector<FigureInfo>& timingFigures();
hosting::FaultOr<Reading> measureTiming(Subject& subject);

/// The test, and what else attack and release may mean.
struct Timed {
    Reading reading;
    std::vector<TimeInUse> attack, release;
};
hosting::FaultOr<Timed> timingInUse(Subject& subject);

/// The same with a tone whose levels are known.
hosting::FaultOr<void> putTiming(Timed& timed, Subject& subject, SteppedTone& tone,
                                 const SettledLevels& levels);

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
//
// The test `movement`: what moves by itself. Figures `amplitude_rate_hz`, `amplitude_depth_db`,
// `pitch_rate_hz`, `pitch_depth_cents`, `wow_flutter_percent`, `stereo_phase_deg`, `notch_count` and
// `randomness`.
//
// Stimulus: a steady tone of 2 kHz (or as asked) for 5 s to settle and 12 s to be looked at, two minutes where
// what moves turns out to be slower; then a repeating noise, for the paths of notches.
#pragma once

#include "bench/figure.h"
#include "bench/reading.h"
#include "bench/subject.h"

namespace hr::bench {

const std::vector<FigureInfo>& movementFigures();
hosting::FaultOr<Reading> measureMovement(Subject& subject);

} // namespace hr::bench

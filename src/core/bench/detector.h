// SPDX-License-Identifier: GPL-3.0-or-later
//
// The test `detector`: how the sensitivity of what rides the level depends on frequency. Figures
// `detector_corner_low_hz` and `detector_corner_high_hz`; the curve `sensitivity` is the offset of the level,
// in dB against the tone at which the levels were taken, at which the same gain is reached.
//
// Stimulus: tones from 20 Hz to 20 kHz at one level beyond the threshold, each held until it has settled, and
// each once at a level that is left alone.
#pragma once

#include "bench/figure.h"
#include "bench/reading.h"
#include "bench/subject.h"

namespace hr::bench {

const std::vector<FigureInfo>& detectorFigures();
hosting::FaultOr<Reading> measureDetector(Subject& subject);

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
//
// The test `intermodulation`: what two tones make of each other. Figures `smpte_percent` (60 Hz and 7 kHz,
// 4:1; SMPTE RP 120) and `difference_db` (19 and 20 kHz, 1:1; IEC 60268-3).
//
// Stimulus: both tones of a pair together, at -12 dBFS peak or the level asked for, until the output has
// settled, then a window of one second, in which both have whole cycles.
#pragma once

#include "bench/figure.h"
#include "bench/reading.h"
#include "bench/subject.h"

namespace hr::bench {

const std::vector<FigureInfo>& intermodulationFigures();
hosting::FaultOr<Reading> measureIntermodulation(Subject& subject);

} // namespace hr::bench

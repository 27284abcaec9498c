// SPDX-License-Identifier: GPL-3.0-or-later
//
// The test `decay`: how a reverb dies away. Figures `rt60_s` (T30 of the whole band, ISO 3382-1:2009), `edt_s`,
// `predelay_ms`, `echo_density`; the curve `rt60` has T30 in octaves from 125 Hz to 8 kHz.
//
// Stimulus: the sweep, with silence behind it until nothing rings any more, at most 40 s.
#pragma once

#include "bench/figure.h"
#include "bench/reading.h"
#include "bench/subject.h"

namespace hr::bench {

const std::vector<FigureInfo>& decayFigures();
hosting::FaultOr<Reading> measureDecay(Subject& subject);

} // namespace hr::bench

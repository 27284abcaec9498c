// SPDX-License-Identifier: GPL-3.0-or-later
//
// The test `resolution`: how finely the output can follow. Figures `effective_bits`, log2 of 2 over the step
// between output levels, and `held_samples`, the n of a sample-and-hold.
//
// Stimulus: full-scale noise, which tells what is held from what is rounded; a slow ramp over the whole range,
// on which steps down to 15 bits are seen, and one over a hundredth of it for the finer ones.
#pragma once

#include "bench/figure.h"
#include "bench/reading.h"
#include "bench/subject.h"

namespace hr::bench {

const std::vector<FigureInfo>& resolutionFigures();
hosting::FaultOr<Reading> measureResolution(Subject& subject);

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
//
// The test `aliasing`: harmonics that lie above half the sample rate and come back below it. Figures
// `worst_alias_db`, against the fundamental, `frequency_hz`, that of the tone that made it, and `alias_hz`,
// where it came to lie.
//
// Stimulus: high sines, one after the other, each until the output has settled; at -12 dBFS and from 2.5 kHz to
// 0.42 fs, or as asked. Every sine has an odd number of cycles in a window of a power of two, so that no folded
// harmonic shares a bin with another.
#pragma once

#include "bench/figure.h"
#include "bench/reading.h"
#include "bench/subject.h"

namespace hr::bench {

const std::vector<FigureInfo>& aliasingFigures();
hosting::FaultOr<Reading> measureAliasing(Subject& subject);

} // namespace hr::bench

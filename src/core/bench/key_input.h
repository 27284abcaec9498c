// SPDX-License-Identifier: GPL-3.0-or-later
//
// The test `key_input`: what the key (side-chain) input does. Figures: those of `transfer` that are about
// levels, and those of `timing`, as groups of these names.
//
// Stimulus: a tone of 1 kHz that holds still at -20 dBFS on the main inputs, while the same tone is stepped on
// the key.
#pragma once

#include "bench/figure.h"
#include "bench/reading.h"
#include "bench/subject.h"

namespace hr::bench {

const std::vector<FigureInfo>& keyInputFigures();
hosting::FaultOr<Reading> measureKeyInput(Subject& subject);

} // namespace hr::bench

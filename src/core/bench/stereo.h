// SPDX-License-Identifier: GPL-3.0-or-later
//
// The test `stereo`: what a processor does between two channels. Figures `crosstalk_db`, `width_db`,
// `balance_db`, `correlation`, `mono_loss_db` and `mono_below_hz`.
//
// Stimulus: the sweep on the left alone, on the right alone, on both (mid) and on both against each other
// (side); then the bench's programme, the same on both.
#pragma once

#include "bench/figure.h"
#include "bench/reading.h"
#include "bench/subject.h"

namespace hr::bench {

const std::vector<FigureInfo>& stereoFigures();
hosting::FaultOr<Reading> measureStereo(Subject& subject);

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
//
// By how much a processor makes a programme louder or softer.
#pragma once

#include "bench/figure.h"
#include "bench/reading.h"
#include "bench/subject.h"

namespace hr::bench {

/// Stimulus: the programme (programme.h) twice; the second time is looked at, against the same going in.
/// Figures: shift_lu (integrated loudness, ITU-R BS.1770-4), true_peak_change_db, crest_change_db (peak over
/// RMS), lra_change_lu (EBU Tech 3342); all null where nothing that can be measured comes out.
hosting::FaultOr<Reading> measureLoudnessShift(Subject& subject);

/// What it reads, each figure declared once.
const std::vector<FigureInfo>& loudnessShiftFigures();

} // namespace hr::bench

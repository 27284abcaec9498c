// SPDX-License-Identifier: GPL-3.0-or-later
//
// Linear response by exponential sine sweep and deconvolution.
#pragma once

#include "bench/figure.h"
#include "bench/reading.h"
#include "bench/subject.h"

namespace hr::bench {

/// Stimulus: a sweep from 10 Hz to 0.49 fs at -30 dBFS (or conditions.level_dbfs), 5.5 s, after 0.25 s
/// of silence and followed by 1 s of it (A. Farina, AES 108, 2000; A. Novak et al., JAES 63, 2015).
/// Figures: gain_1k_db, passband_db, corner_low_hz, corner_high_hz, slope_low_db_per_octave,
/// slope_high_db_per_octave, peaks, notches (frequency_hz, gain_db, q), polarity; of the first output.
/// Curve: magnitude (dB), phase (degrees, unwrapped, reported latency removed), group_delay (ms, the
/// same), at 48 points an octave.
hosting::FaultOr<Reading> measureResponse(Subject& subject);

/// What it reads, each figure declared once.
const std::vector<FigureInfo>& responseFigures();

} // namespace hr::bench

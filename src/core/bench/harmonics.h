// SPDX-License-Identifier: GPL-3.0-or-later
//
// Harmonic distortion of a steady sine, coherent with the window of analysis.
#pragma once

#include "bench/figure.h"
#include "bench/reading.h"
#include "bench/subject.h"

namespace hr::bench {

/// Stimulus: a sine held until the output has settled (0.5 to 3 s), then 2.7 s of it. Its frequency is
/// the nearest to the one asked (1 kHz and 100 Hz by default) that has an odd number of cycles in a
/// window of 2^n frames: no folded harmonic then falls on another harmonic. Level -12 dBFS or as asked.
/// Figures: thd_percent, thd_db (harmonics 2 to 20 below Nyquist against the fundamental), thdn_db
/// (AES17: everything but the fundamental, 20 Hz to 20 kHz, against the total), harmonics_db (from the
/// 2nd, against the fundamental), odd_db, even_db (power sums), dc_offset (full scale = 1),
/// crest_change_db; at_100_hz holds the same at 100 Hz unless a frequency was asked for.
/// Curve: thd_over_level (-60 to 0 dBFS), thd_over_frequency (20 Hz to fs / 4).
hosting::FaultOr<Reading> measureHarmonics(Subject& subject);

/// What it reads, each figure declared once.
const std::vector<FigureInfo>& harmonicsFigures();

} // namespace hr::bench

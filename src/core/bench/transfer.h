// SPDX-License-Identifier: GPL-3.0-or-later
//
// What comes out against what goes in: settled levels, and one cycle of the waveform.
#pragma once

#include "bench/figure.h"
#include "bench/reading.h"
#include "bench/subject.h"

namespace hr::bench {

struct SettledLevels;

/// Stimulus: (a) a sine (1 kHz or conditions.frequency_hz) from -60 to 0 dBFS in steps of 1 dB, each held
/// until the output has settled (at most 10 s), and where the gain jumps, steps between to 0.1 dB;
/// (b) a full-scale sine of 20 Hz, of which the last of 40 cycles is looked at.
/// Figures: kind (linear, compressor, limiter, expander, gate, upward; saturating where distortion rises
/// with the level while the gain follows within one cycle), threshold_db, ratio, knee_db, makeup_db by least
/// squares (level_curve.h), range_db; clip_level_dbfs (where the waveform is cut flat), symmetry_db (upper
/// against lower peak); of the first output.
/// Curve: in_out (dBFS RMS in and out), waveform (instantaneous, full scale = 1, reported latency removed).
/// Flags: `poor-fit` where the model is more than 0.05 dB RMS from the curve, `unsettled` where a step still
/// moved after 10 s.
hosting::FaultOr<Reading> measureTransfer(Subject& subject);

/// What it reads, each figure declared once.
const std::vector<FigureInfo>& transferFigures();

/// Part (a) alone, of levels that are known already.
void putLevels(Reading& reading, const SettledLevels& levels);

} // namespace hr::bench

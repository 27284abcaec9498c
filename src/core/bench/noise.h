// SPDX-License-Identifier: GPL-3.0-or-later
//
// What a processor adds when nothing, or nothing any more, goes in.
#pragma once

#include "bench/figure.h"
#include "bench/reading.h"
#include "bench/subject.h"

namespace hr::bench {

/// Stimulus: 3 s of digital silence, of which the last 2 s are looked at; then a 1 kHz tone of 2 s at -12 dBFS
/// (or conditions.level_dbfs) that stops. Figures: idle_dbfs (AES17, whole band to Nyquist),
/// idle_a_weighted_dbfs (IEC 61672-1 curve), after_signal_dbfs (0.1 to 0.5 s after the tone), follows_signal
/// (whether that stands more than 6 dB above the idle noise); hum_hz, the lines below 1 kHz that stand 15 dB
/// out of the noise around them. Of the first output. Null: digital silence, or a tail that still decays where
/// noise was to be measured.
hosting::FaultOr<Reading> measureNoise(Subject& subject);

/// What it reads, each figure declared once.
const std::vector<FigureInfo>& noiseFigures();

} // namespace hr::bench

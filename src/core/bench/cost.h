// SPDX-License-Identifier: GPL-3.0-or-later
//
// What a processor takes of the machine, and how late it is.
#pragma once

#include "bench/figure.h"
#include "bench/reading.h"
#include "bench/subject.h"

namespace hr::bench {

/// Stimulus: the programme (programme.h) at blocks of 64, 256 and 1024, then 10 s of silence.
/// Figures, at 256 frames (the others under at_block_64 and at_block_1024): realtime_factor (seconds of audio a
/// second of one core), block_us_p50, block_us_p99, block_us_max; start_ms, memory_mib (of its process; null
/// where it runs in ours), latency_reported_samples, latency_found_samples (latency.h), slow_after_silence (the
/// median block is three times as slow at the silence's end as in the programme).
hosting::FaultOr<Reading> measureCost(Subject& subject);

/// What it reads, each figure declared once.
const std::vector<FigureInfo>& costFigures();

} // namespace hr::bench

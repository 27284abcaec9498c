// SPDX-License-Identifier: GPL-3.0-or-later
//
// The test `echoes`: distinct repeats. Figures `echoes` (`time_ms` from the input, the reported latency taken
// out, and `level_db` against the input), `repeat_ms`, `feedback_db` per repeat, and `division`, the note value
// of the repeat at the tempo it was told. A filter makes an echo duller, not later: its minimum-phase part is
// taken out, as for latency (latency.h).
//
// Stimulus: the sweep, with silence behind it until nothing rings any more.
#pragma once

#include "bench/figure.h"
#include "bench/reading.h"
#include "bench/subject.h"

namespace hr::bench {

const std::vector<FigureInfo>& echoesFigures();
hosting::FaultOr<Reading> measureEchoes(Subject& subject);

} // namespace hr::bench

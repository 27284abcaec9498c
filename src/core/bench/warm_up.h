// SPDX-License-Identifier: GPL-3.0-or-later
//
// Processors that do nothing until they have heard something for a while, as those that sleep in silence: what
// a sweep begins with would be missing from its answer, and look like a filter.
#pragma once

#include "bench/subject.h"

namespace hr::bench {

/// How long, in seconds, sound has to come before it answers as it then goes on answering: 0 for what answers
/// at once, however late (latency, delays) or slowly (reverbs), and for what does not within 4 s. The subject
/// is left somewhere, the first time.
hosting::FaultOr<double> warmUpTime(Subject& subject, double level_dbfs);

/// Noise of this RMS level for so long, and a moment of silence in which what rings is mostly gone and nothing
/// falls asleep again.
std::vector<double> warmUpSound(double level_dbfs, double seconds, double rate_hz);

} // namespace hr::bench

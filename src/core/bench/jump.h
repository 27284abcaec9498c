// SPDX-License-Identifier: GPL-3.0-or-later
//
// What opens and closes: the levels at which its gain jumps, bisected to 0.1 dB from both sides.
#pragma once

#include "bench/settled_levels.h"

namespace hr::bench {

/// Where the curve has a steep part: whether it jumps there, or slopes; `noise_db` as for readLevelCurve. The
/// figures are read anew, of a slope with further levels.
hosting::FaultOr<void> tellJumpFromSlope(Subject& subject, SteppedTone& tone, SettledLevels& levels,
                                         double noise_db);

/// `threshold_db`, where it opens, coming from below, and `closes_db`, where it closes, coming from above, of
/// figures that have a jump.
hosting::FaultOr<void> bisectJump(Subject& subject, SteppedTone& tone, SettledLevels& levels);

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
//
// The level at which a sweep is answered by a filter alone: below what a compressor reacts to, above what a
// gate needs to open.
#pragma once

#include "bench/subject.h"

namespace hr::bench {

/// What the conditions ask for; else -30 dBFS where the gain is the same there as near it; else the nearest
/// level of which that is so, and for what opens with the level one at which it is open. The subject is left
/// somewhere.
hosting::FaultOr<double> linearLevel(Subject& subject);

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
//
// What a processor does with levels, at the frequency where that tells most: what listens to a part of the
// band, or rides it in several, does not do the same everywhere.
#pragma once

#include "bench/settled_levels.h"

#include <array>
#include <memory>

namespace hr::bench {

/// Where levels are looked at, unless a frequency is asked for: the usual one first, and where what listens to
/// a part of the band may be more sensitive.
inline constexpr std::array level_tones_hz{1000.0, 100.0, 6500.0};

/// Of a tone on the main input, measured once: of the frequency that the conditions ask for, else of 1 kHz;
/// where the gain does not depend on the level there, of 100 Hz, else of 6.5 kHz. Where one of these changes it
/// by another amount (several bands, a detector that listens to one), each has its curve. A stop band says
/// nothing.
hosting::FaultOr<std::shared_ptr<const SettledLevels>> levelsOf(Subject& subject);

} // namespace hr::bench

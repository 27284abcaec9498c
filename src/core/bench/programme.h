// SPDX-License-Identifier: GPL-3.0-or-later
//
// A stretch of made-up music for tests that need programme rather than tones: wind chords with drums under
// them, loud, soft, and a rest, the same at every run.
#pragma once

#include <vector>

namespace hr::bench {

inline constexpr double programme_seconds = 8;
inline constexpr double programme_lufs = -20; ///< integrated, on two channels, within 1 LU

/// Whole frames of programme_seconds; peaks between -10 and -3 dBFS; begins and ends in silence, so that it may
/// be played again and again.
std::vector<double> programme(double sample_rate_hz);

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
//
// Tells a bent waveform from a level that is ridden: both change the gain with the level and both make
// harmonics, but what bends the waveform is done with it at once, and only what stands before or behind it (a
// filter, a delay) takes its time, as it does where nothing is bent.
#pragma once

#include "bench/level_curve.h"
#include "bench/stepped_tone.h"

namespace hr::bench {

/// A tone in steps, each settled, and its harmonics against the tone at each of them.
struct Steps {
    LevelCurve curve;
    std::vector<double> distortion_db;
    std::vector<double> hiss_dbfs; ///< what is neither tone nor harmonic
};

/// Harmonics 2 to 10 against the tone; what moves or hisses is not among them: it lies between them as well.
double distortionDb(std::span<const double> samples, double frequency_hz, double rate_hz);

/// Whether the harmonics are there at every level alike, as those of what is multiplied or sampled anew are.
bool distortsAlike(const Steps& steps);

/// `bends`: whether the curve does; then weaker harmonics tell. `jump`: the levels between which the gain
/// jumps.
hosting::FaultOr<bool> bendsTheWaveform(SteppedTone& tone, const Steps& steps, double idle_dbfs, bool bends,
                                        const std::optional<std::pair<double, double>>& jump);

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
//
// Test signals. Amplitudes are linear, full scale = 1; computed in double precision.
#pragma once

#include "signal/audio_buffer.h"

#include <cstdint>
#include <vector>

namespace hr::signal {

/// `frames` samples of a sine that begins at `first_frame` of its course, so that stretches join.
std::vector<double> sine(double frequency_hz, double amplitude, double sample_rate_hz, std::size_t frames,
                         std::size_t first_frame = 0);

/// Exponential sine sweep from `low_hz` to `high_hz` (A. Farina, "Simultaneous measurement of impulse
/// response and distortion with a swept-sine technique", AES 108, 2000), with the phase synchronised
/// so that harmonics stay in phase (A. Novak, P. Lotton, L. Simon, "Synchronized swept-sine", JAES
/// 63, 2015), and short raised-cosine fades. At most `frames` long, the rest is silence.
/// 0 < low_hz < high_hz < sample_rate_hz / 2.
std::vector<double> exponentialSweep(double low_hz, double high_hz, double amplitude, double sample_rate_hz,
                                     std::size_t frames);

/// White Gaussian noise of the given RMS; the same seed gives the same noise everywhere.
std::vector<double> gaussianNoise(double rms, std::size_t frames, std::uint64_t seed);

/// The same signal on every channel, rounded to 32-bit float as processors get it.
AudioBuffer onChannels(const std::vector<double>& samples, std::size_t channels, double sample_rate_hz);

} // namespace hr::signal

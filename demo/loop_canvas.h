// SPDX-License-Identifier: GPL-3.0-or-later
//
// A stereo loop to paint sounds on: whatever runs over the end comes in again at the beginning, so
// that the loop has no seam.
#pragma once

#include "signal/audio_buffer.h"

#include <cstdint>
#include <functional>
#include <vector>

namespace demo {

inline constexpr double rate_hz = 48000;

class LoopCanvas {
public:
    explicit LoopCanvas(double seconds);

    /// `sample(t)` for t from 0 to `length_s` seconds, begun at `start_s`; pan -1 left to 1 right.
    void add(double start_s, double length_s, double pan, double gain,
             const std::function<double(double)>& sample);

    /// A hall of `rt60_s` around it, by circular convolution with decaying noise; `amount` against the dry.
    void addRoom(double rt60_s, double amount, std::uint64_t seed);
    void addNoise(double rms, std::uint64_t seed);

    /// Brought to `loudness_lufs`, as 32-bit float.
    hr::signal::AudioBuffer finished(double loudness_lufs) const;

private:
    std::vector<std::vector<double>> m_sides;
};

/// Rise and fall of a blown note: 0 to 1 in `attack_s`, held, back to 0 in the last `release_s`.
double blown(double t, double length_s, double attack_s, double release_s);

/// Semitones above A4 = 440 Hz.
double pitch(double semitones);

/// White noise in -1 to 1 from a position, the same each time.
double grain(std::uint64_t position);

} // namespace demo

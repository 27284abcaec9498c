// SPDX-License-Identifier: GPL-3.0-or-later
//
// What answers a steady stimulus once it has settled, and the powers in it: sines with a whole number of cycles
// in the window, so that no window function is needed.
#pragma once

#include "bench/subject.h"

#include <functional>

namespace hr::bench {

/// A fundamental below this is not a tone that came through.
inline constexpr double no_tone_dbfs = -130;

/// A tone with a whole, odd number of cycles in a window of a power of two: every harmonic, folded or not, has
/// a bin of its own.
struct Tone {
    std::size_t window_frames = 0;
    std::size_t cycles = 1;
    double rate_hz = 48000;
    double level_dbfs = 0;

    double frequencyHz() const
    {
        return rate_hz * static_cast<double>(cycles) / static_cast<double>(window_frames);
    }
};

/// The nearest to `asked_hz`; the window is about `window_s` long.
Tone coherentTone(double asked_hz, double level_dbfs, double window_s, double rate_hz);

/// A stimulus without an end: `frames` samples of it from `first_frame` on.
using Course = std::function<std::vector<double>(std::size_t first_frame, std::size_t frames)>;

struct Settling {
    std::size_t step_frames = 0; ///< whole periods of the course, so that its level is the same in each
    double least_s = 0.5, most_s = 3;
};

/// `window_frames` of the first output, after two steps were equally loud to 0.002 dB; goes on from where the
/// subject is.
hosting::FaultOr<std::vector<double>> settledWindow(Subject& subject, const Course& course,
                                                    std::size_t window_frames, const Settling& settling);
/// The same for a tone. `window_at`: the sample of the tone with which the window begins.
hosting::FaultOr<std::vector<double>> settledWindow(Subject& subject, const Tone& tone, double least_s,
                                                    double most_s, std::size_t* window_at = nullptr);

/// Powers by bin; a sine of amplitude a reads a^2 / 2 in its own.
std::vector<double> powerSpectrum(const std::vector<double>& window);

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
//
// What answers a steady stimulus once it has settled, and the powers in it: sines with a whole number of cycles
// in the window, so that no window function is needed.
#pragma once

#include "bench/reading.h"
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
    double least_s = 0.5; ///< settlingS(), or more
    double most_s = 40;
};

/// How long a tone that begins in silence takes to stop changing, its way through the subject included; the
/// subject is left somewhere. What moves for ever is not waited for.
hosting::FaultOr<double> settlingS(Subject& subject, double frequency_hz, double level_dbfs);

/// Two windows of the first output, one after the other.
struct SettledWindow {
    std::vector<double> samples, before;
    std::size_t first_frame = 0; ///< of the course, with which `samples` begins
    double moved_db = 0;         ///< what the two differ by, against the last
};

/// Once two windows are the same but for the rounding of samples, or no longer come nearer to one another; goes
/// on from where the subject is. A window holds whole periods of the course.
hosting::FaultOr<SettledWindow> settledWindow(Subject& subject, const Course& course, std::size_t window_frames,
                                              const Settling& settling);
hosting::FaultOr<SettledWindow> settledWindow(Subject& subject, const Tone& tone, const Settling& settling);

/// Tells, where it is so, that the tone in this bin is not the same from one window to the next, which leaves
/// these figures unsure.
void flagMovement(Reading& reading, const SettledWindow& window, std::size_t bin,
                  const std::vector<std::string>& unsure);

/// Powers by bin; a sine of amplitude a reads a^2 / 2 in its own.
std::vector<double> powerSpectrum(const std::vector<double>& window);

} // namespace hr::bench

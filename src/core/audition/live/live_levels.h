// SPDX-License-Identifier: GPL-3.0-or-later
//
// Figures of what passes by: loudness by EBU R 128 and its live mode (EBU Tech 3341), peaks, level and how the
// channels go together.
#pragma once

#include "audition/tap.h"
#include "signal/loudness.h"

#include <deque>
#include <optional>
#include <utility>
#include <vector>

namespace hr::audition {

class LiveLevels {
public:
    static constexpr double window_s = 0.3; ///< of level, peak, crest and correlation

    explicit LiveLevels(double sample_rate_hz);

    void add(const TapBlock& block);

    struct Figures {
        std::optional<double> momentary_lufs, short_term_lufs; ///< of the last 400 ms, and 3 s
        std::optional<double> integrated_lufs, range_lu;       ///< since it began, gated
        std::optional<double> true_peak_dbtp;                  ///< the highest since it began
        // Of the last window_s; empty in silence:
        std::optional<double> peak_dbfs, rms_dbfs; ///< RMS by AES17
        std::optional<double> crest_db;            ///< peak over RMS as it is: 3.01 for a sine
        std::optional<double> correlation;         ///< -1 to 1; empty also where a channel is silent
    };
    Figures read() const;

    /// Left and right of every fourth frame of the last window_s, the oldest first: the stereo picture.
    const std::deque<std::pair<float, float>>& picture() const { return m_picture; }

private:
    /// Sums over one block.
    struct Sums {
        double left = 0, right = 0, product = 0;
        float peak = 0;
        std::size_t frames = 0;
    };
    signal::StereoMeter m_meter;
    std::size_t m_window_frames;
    std::deque<Sums> m_sums;
    std::size_t m_in_window = 0;
    std::deque<std::pair<float, float>> m_picture;
};

} // namespace hr::audition

// SPDX-License-Identifier: GPL-3.0-or-later
//
// Programme loudness of the last ten seconds of what goes on and on: ITU-R BS.1770-4 (2015), gated, over its
// blocks of 400 ms every 100 ms.
#pragma once

#include "signal/loudness.h"

#include <deque>

namespace hr::audition {

class RecentLoudness {
public:
    static constexpr double window_s = 10;

    explicit RecentLoudness(double rate_hz);

    void add(const float* left, const float* right, std::size_t frames);
    /// LUFS; empty where nothing in it was above the gate at -70 LUFS.
    std::optional<double> read() const;

private:
    signal::StereoMeter m_meter;
    const std::size_t m_step_frames;
    std::size_t m_until_step;
    std::deque<std::optional<double>> m_blocks_lufs; // the oldest first; empty: below the gate
};

} // namespace hr::audition

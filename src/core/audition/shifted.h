// SPDX-License-Identifier: GPL-3.0-or-later
//
// A lane read some samples later than it plays, by parts of a sample too: a windowed sinc of 64 taps (flat to
// 0.01 dB up to 0.9 of half the rate). For the audio callback.
#pragma once

#include "audition/ring.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace hr::audition {

class Shift {
public:
    static constexpr std::size_t half = 32;
    static constexpr std::size_t taps = 2 * half;
    static constexpr double most_samples = 48;
    /// By how much what is read through any of them is ahead of what plays.
    static constexpr std::size_t lead_frames = 96;
    /// Frames beyond the one that plays that must be ready.
    static constexpr std::size_t reach_frames = lead_frames + 48 + half + 1;

    /// Finite; limited to most_samples. Takes some microseconds where it is another one.
    void set(float samples) noexcept
    {
        if (samples == m_samples)
            return;
        m_samples = samples;
        const double limited = std::clamp(static_cast<double>(samples), -most_samples, most_samples);
        const double whole = std::floor(limited);
        m_first = static_cast<std::size_t>(static_cast<double>(lead_frames) + whole) - half + 1;
        const double part = limited - whole;
        double sum = 0;
        for (std::size_t t = 0; t < taps; ++t) {
            const double x = static_cast<double>(t) - static_cast<double>(half - 1) - part;
            const double sinc = x == 0 ? 1 : std::sin(std::numbers::pi * x) / (std::numbers::pi * x);
            const double turn = std::numbers::pi * x / static_cast<double>(half);
            const double blackman = 0.42 + 0.5 * std::cos(turn) + 0.08 * std::cos(2 * turn);
            m_taps[t] = static_cast<float>(sinc * blackman);
            sum += sinc * blackman;
        }
        for (float& tap : m_taps)
            tap /= static_cast<float>(sum);
        m_whole = part == 0;
    }

    /// `ahead` of the frame that plays and lead_frames; `lane` has peek().
    template<class Lane>
    Frame of(const Lane& lane, std::size_t ahead) const noexcept
    {
        if (m_whole)
            return lane.peek(ahead + m_first + half - 1);
        Frame sum;
        for (std::size_t t = 0; t < taps; ++t) {
            const Frame& frame = lane.peek(ahead + m_first + t);
            sum.left += m_taps[t] * frame.left;
            sum.right += m_taps[t] * frame.right;
        }
        return sum;
    }

private:
    float m_samples = 0;
    bool m_whole = true;
    std::size_t m_first = lead_frames - half + 1;
    std::array<float, taps> m_taps{};
};

} // namespace hr::audition

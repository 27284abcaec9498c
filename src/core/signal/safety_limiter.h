// SPDX-License-Identifier: GPL-3.0-or-later
//
// The last thing before the ears: a stereo look-ahead peak limiter. While nothing exceeds the
// ceiling it is a pure delay, bit for bit. Real-time safe: fixed memory, no branches into the system.
#pragma once

#include <array>
#include <cstddef>

namespace hr::signal {

class SafetyLimiter {
public:
    static constexpr std::size_t latency_frames = 64;       ///< 1.3 ms at 48 kHz
    static constexpr float ceiling = 0.891250938F;          ///< -1 dBFS
    static constexpr float release_per_frame = 1.0F / 4800; ///< of the gain taken; 100 ms at 48 kHz

    /// In place. What is not finite becomes silence, and counts as limited.
    void process(float* left, float* right, std::size_t frames) noexcept;

    /// Whether anything was held down since the last call.
    bool takeActed() noexcept
    {
        const bool acted = m_acted;
        m_acted = false;
        return acted;
    }

private:
    std::array<float, latency_frames> m_left{}, m_right{};
    std::array<float, latency_frames> m_wanted = filled(1.0F); // gain each delayed frame asks for
    std::size_t m_at = 0;
    float m_gain = 1.0F;
    bool m_acted = false;

    static constexpr std::array<float, latency_frames> filled(float value)
    {
        std::array<float, latency_frames> all{};
        for (float& one : all)
            one = value;
        return all;
    }
};

} // namespace hr::signal

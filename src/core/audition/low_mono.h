// SPDX-License-Identifier: GPL-3.0-or-later
//
// A stereo sound made mono below a frequency, as vinyl and small loudspeakers have it.
#pragma once

#include "signal/biquad.h"

#include <array>
#include <cstddef>
#include <numbers>

namespace hr::audition {

/// Real-time safe. What tells left from right passes a high-pass of the fourth order; what they have in common
/// an all-pass of the same phase, so that above the frequency nothing leaks across (S. Linkwitz, R. Riley,
/// "Active crossover networks for noncoincident drivers", JAES 24, 1976).
class LowMono {
public:
    LowMono(double below_hz, double rate_hz)
        : m_high_pass(signal::highPass(below_hz, q, rate_hz)), m_all_pass(signal::allPass(below_hz, q, rate_hz))
    {
    }
    void process(float* left, float* right, std::size_t count) noexcept
    {
        for (std::size_t i = 0; i < count; ++i) {
            const double mid = m_mid.next(m_all_pass, 0.5 * (left[i] + right[i]));
            double side = 0.5 * (left[i] - right[i]);
            for (signal::BiquadState& state : m_side)
                side = state.next(m_high_pass, side);
            left[i] = static_cast<float>(mid + side);
            right[i] = static_cast<float>(mid - side);
        }
    }

private:
    static constexpr double q = std::numbers::sqrt2 / 2;

    signal::Biquad m_high_pass, m_all_pass;
    signal::BiquadState m_mid;
    std::array<signal::BiquadState, 2> m_side;
};

} // namespace hr::audition

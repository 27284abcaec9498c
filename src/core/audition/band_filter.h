// SPDX-License-Identifier: GPL-3.0-or-later
//
// One band of a stereo sound: to be matched in, or to be heard alone.
#pragma once

#include "signal/biquad.h"

#include <array>
#include <cstddef>

namespace hr::audition {

struct Band {
    double low_hz = 200;
    double high_hz = 2000;

    friend bool operator==(const Band&, const Band&) = default;
};

/// Real-time safe. Butterworth of the fourth order at each edge; an edge outside 10 Hz to 0.49
/// of the rate is left out.
class BandFilter {
public:
    BandFilter(const Band& band, double rate_hz);
    void process(float* samples, std::size_t count, std::size_t channel) noexcept; ///< channel 0 or 1
    void process(float* left, float* right, std::size_t count) noexcept
    {
        process(left, count, 0);
        process(right, count, 1);
    }

private:
    std::array<signal::Biquad, 4> m_sections{};
    std::array<std::array<signal::BiquadState, 4>, 2> m_states{};
};

} // namespace hr::audition

// SPDX-License-Identifier: GPL-3.0-or-later
//
// One band of a stereo sound: to be matched in, or to be heard alone.
#pragma once

#include "signal/biquad.h"

#include <array>
#include <cstddef>
#include <optional>

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

private:
    std::array<signal::Biquad, 4> m_sections{};
    std::array<std::array<signal::BiquadState, 4>, 2> m_states{};
};

/// The band that is to be heard, or all of it: what is asked for is crossfaded to, so that it does not click.
/// Real-time safe.
class BandMonitor {
public:
    explicit BandMonitor(double rate_hz) : m_rate_hz(rate_hz) {}
    void process(const std::optional<Band>& wanted, float* left, float* right, std::size_t count) noexcept;

private:
    static constexpr std::size_t most_frames = 256; // at a time
    static constexpr double fade_s = 0.02;

    const double m_rate_hz;
    std::optional<Band> m_band;          // of m_filter
    std::optional<BandFilter> m_filter;  // none: all of it
    std::optional<BandFilter> m_leaving; // none: all of it
    double m_left_of_fade = 0;           // 1 to 0: what is leaving
};

} // namespace hr::audition

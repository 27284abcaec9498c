// SPDX-License-Identifier: GPL-3.0-or-later
//
// What effects with known answers have in common, on the specimens' frame.
#pragma once

#include "parts.h"

namespace specimens {

/// The louder side of a sample.
inline double peakOf(const Stereo& in, std::uint32_t i)
{
    return std::max(std::abs(static_cast<double>(in[0][i])), std::abs(static_cast<double>(in[1][i])));
}

/// What all of them have: one control that does nothing, and a gain in dB for both sides.
struct Fixed {
    static constexpr int controls = 1;
    explicit Fixed(double rate) : rate_hz(rate) {}
    void put(const Stereo& in, const StereoOut& out, std::uint32_t i, double gain_db) const
    {
        for (std::size_t side = 0; side < 2; ++side)
            out[side][i] = static_cast<float>(in[side][i] * fromDb(gain_db));
    }
    /// The level of the peaks, which falls with this time constant.
    double level(const Stereo& in, std::uint32_t i, double falls_ms = 4)
    {
        envelope = std::max(peakOf(in, i), envelope * poleFor(falls_ms, rate_hz));
        return toDb(envelope);
    }
    /// The highest of the last 1.2 ms: of a steady tone of 1 kHz it does not ripple at all.
    double steadyLevel(const Stereo& in, std::uint32_t i)
    {
        const auto length = static_cast<std::size_t>(0.0012 * rate_hz);
        recent.resize(length);
        recent[next++ % length] = peakOf(in, i);
        return toDb(std::ranges::max(recent));
    }
    double rate_hz, envelope = 0;
    std::vector<double> recent;
    std::size_t next = 0;
    Rider rider;
};
using None = std::array<float, 1>;

/// A section of second order after the cookbook (Bristow-Johnson 1998).
struct Section {
    double b0 = 1, b1 = 0, b2 = 0, a1 = 0, a2 = 0, z1 = 0, z2 = 0;
    double next(double x)
    {
        const double y = b0 * x + z1;
        z1 = b1 * x - a1 * y + z2;
        z2 = b2 * x - a2 * y;
        return y;
    }
};
enum class Shape { High, Low, Bell, AllPass };
inline Section section(Shape shape, double hz, double q, double gain_db, double rate_hz)
{
    const double w = 2 * std::numbers::pi * hz / rate_hz;
    const double alpha = std::sin(w) / (2 * q);
    const double a = std::pow(10, gain_db / 40);
    const double c = std::cos(w);
    const double a0 = 1 + (shape == Shape::Bell ? alpha / a : alpha);
    const double a2 = (1 - (shape == Shape::Bell ? alpha / a : alpha)) / a0;
    switch (shape) {
    case Shape::High:
        return {(1 + c) / 2 / a0, -(1 + c) / a0, (1 + c) / 2 / a0, -2 * c / a0, a2};
    case Shape::Low:
        return {(1 - c) / 2 / a0, (1 - c) / a0, (1 - c) / 2 / a0, -2 * c / a0, a2};
    case Shape::Bell:
        return {(1 + alpha * a) / a0, -2 * c / a0, (1 - alpha * a) / a0, -2 * c / a0, a2};
    case Shape::AllPass:
        return {(1 - alpha) / a0, -2 * c / a0, (1 + alpha) / a0, -2 * c / a0, a2};
    }
    return {};
}

/// From sample to sample.
template<double (*curve)(double)>
struct Waveform : Fixed {
    using Fixed::Fixed;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i)
            for (std::size_t side = 0; side < 2; ++side)
                out[side][i] = static_cast<float>(curve(in[side][i]));
    }
};

/// So many all-passes beside the sound make half as many notches, which travel through so many octaves.
template<int count, int period_s, int lowest_hz, int octaves>
struct Phaser : Fixed {
    using Fixed::Fixed;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i) {
            const double turned_hz =
                lowest_hz * std::exp2(octaves * (1 + wheel.next(1.0 / period_s, rate_hz)) / 2);
            const double a = AllPasses<count>::coefficientFor(turned_hz, rate_hz);
            for (std::size_t side = 0; side < 2; ++side)
                out[side][i] = static_cast<float>(0.5 * (in[side][i] + sides[side].next(in[side][i], a)));
        }
    }
    Wheel wheel;
    std::array<AllPasses<count>, 2> sides;
};

} // namespace specimens

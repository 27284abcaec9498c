// SPDX-License-Identifier: GPL-3.0-or-later
//
// Small parts that several specimens are made of.
#pragma once

#include "signal/delay_line.h"
#include "specimen.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <vector>

namespace specimens {

inline double fromDb(double db)
{
    return std::pow(10.0, db / 20);
}
inline double toDb(double amplitude)
{
    return 20 * std::log10(std::max(1e-9, amplitude));
}
/// Pole of a one-pole smoother that covers 63 % of a step in `ms`.
inline double poleFor(double ms, double rate_hz)
{
    return std::exp(-1000 / (std::max(0.01, ms) * rate_hz));
}

/// Follows a gain in dB down and up with times of their own.
struct Rider {
    double gain_db = 0;
    double next(double target_db, double down_pole, double up_pole)
    {
        const double pole = target_db < gain_db ? down_pole : up_pole;
        return gain_db = target_db + pole * (gain_db - target_db);
    }
};

/// All-passes of first order in a row, which turn the phase by 90 degrees each at one frequency.
template<std::size_t count>
struct AllPasses {
    std::array<double, count> states{};
    static double coefficientFor(double frequency_hz, double rate_hz)
    {
        const double t = std::tan(std::numbers::pi * frequency_hz / rate_hz);
        return (t - 1) / (t + 1);
    }
    double next(double x, double a)
    {
        for (double& state : states) {
            const double y = a * x + state;
            state = x - a * y;
            x = y;
        }
        return x;
    }
};

/// A sine that turns slowly.
struct Wheel {
    double cycles = 0;
    double next(double rate_hz, double sample_rate_hz, double offset = 0)
    {
        cycles += rate_hz / sample_rate_hz;
        cycles -= std::floor(cycles);
        return std::sin(2 * std::numbers::pi * (cycles + offset));
    }
};

/// Between the samples of a delay line, in a straight line.
inline double between(const hr::signal::DelayLine& line, double delay)
{
    const auto whole = static_cast<std::size_t>(delay);
    const double part = delay - static_cast<double>(whole);
    return line.tap(whole) * (1 - part) + line.tap(whole + 1) * part;
}

/// White noise, the same at every start.
struct Hiss {
    std::uint32_t state = 22222;
    double next()
    {
        state = state * 1664525U + 1013904223U;
        return static_cast<double>(state) / 2147483648.0 - 1;
    }
};

/// The mono build of a stereo specimen: one side of it.
template<class T>
struct Mono : T {
    using T::T;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const Values<T>& c)
    {
        unheard.resize(frames);
        T::process({in[0], in[0], in[2], in[3]}, {out[0], unheard.data()}, frames, c);
    }
    std::vector<float> unheard;
};

} // namespace specimens

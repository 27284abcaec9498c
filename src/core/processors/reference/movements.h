// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "processors/reference/times.h"

#include <array>
#include <complex>
#include <numbers>

namespace hr::processors {

/// A phase that turns `rate_hz` times a second.
class Turning {
public:
    void reset() noexcept { m_cycles = 0; }
    /// Cycles at this sample, 0 to 1; then moves on.
    double next(double rate_hz, double sample_rate_hz) noexcept
    {
        const double now = m_cycles;
        m_cycles += rate_hz / sample_rate_hz;
        m_cycles -= std::floor(m_cycles);
        return now;
    }

private:
    double m_cycles = 0;
};

/// The level in dB moves along a sine between 0 and -depth_db, on both channels together.
class Tremolo : public ReferenceProcessor {
public:
    Tremolo()
        : ReferenceProcessor(
              "tremolo", "Tremolo", "modulation",
              {logarithmic("rate_hz", "Rate", "Hz", 0.1, 100, 5), linear("depth_db", "Depth", "dB", 0, 40, 6)})
    {
    }

    void process(const float* const* in, float* const* out, std::size_t frames) noexcept override
    {
        for (std::size_t i = 0; i < frames; ++i) {
            const double turn = 2 * std::numbers::pi * m_turning.next(value(0), sampleRateHz());
            const double gain = signal::dbToLinear(-value(1) * (0.5 - 0.5 * std::cos(turn)));
            for (std::size_t c = 0; c < channels; ++c)
                out[c][i] = static_cast<float>(in[c][i] * gain);
        }
    }

private:
    void reset() override { m_turning.reset(); }

    Turning m_turning;
};

/// The pitch moves along a sine, depth_cents above and as much in Hz below: a delay that swings, read
/// between the samples by a windowed sinc of 64 taps.
class Vibrato : public ReferenceProcessor {
public:
    Vibrato()
        : ReferenceProcessor("vibrato", "Vibrato", "modulation",
                             {logarithmic("rate_hz", "Rate", "Hz", 0.5, 100, 5),
                              linear("depth_cents", "Depth", "cent", 0, 100, 20)})
    {
    }

    void process(const float* const* in, float* const* out, std::size_t frames) noexcept override
    {
        // Pitch is 1 minus the slope of the delay: a swing of +-a seconds at rate r bends it by 2 pi r a.
        const double swing =
            (std::exp2(value(1) / 1200) - 1) / (2 * std::numbers::pi * value(0)) * sampleRateHz();
        for (std::size_t i = 0; i < frames; ++i) {
            const double turn = 2 * std::numbers::pi * m_turning.next(value(0), sampleRateHz());
            const double delay = half_taps + 1 + swing * (1 + std::cos(turn));
            const double whole = std::floor(delay);
            const Taps taps = tapsFor(delay - whole);
            for (std::size_t c = 0; c < channels; ++c) {
                m_lines[c].push(in[c][i]);
                double sum = 0;
                for (std::size_t k = 0; k < taps.size(); ++k)
                    sum += taps[k] * m_lines[c].tap(static_cast<std::size_t>(whole) + k - (half_taps - 1));
                out[c][i] = static_cast<float>(sum);
            }
        }
    }

private:
    static constexpr int half_taps = 32;

    void reset() override
    {
        m_turning.reset();
        for (signal::DelayLine& line : m_lines)
            line.reset(static_cast<std::size_t>(0.05 * sampleRateHz()) + std::size_t{4} * half_taps);
    }

    using Taps = std::array<double, std::size_t{2} * half_taps>;

    /// The windowed sinc at x = part - k, for the taps k from -half_taps + 1 on. One sine and one turned
    /// pointer give all of them: sin(pi (part - k)) = +-sin(pi part), and the window goes on by the same angle.
    static Taps tapsFor(double part) noexcept
    {
        const double sine = std::sin(std::numbers::pi * part);
        const std::complex<double> step = std::polar(1.0, -std::numbers::pi / half_taps);
        std::complex<double> window = std::polar(1.0, std::numbers::pi * (part + half_taps - 1) / half_taps);
        Taps taps{};
        for (int i = 0; i < 2 * half_taps; ++i) {
            const int k = i - half_taps + 1;
            const double x = part - k;
            const double sinc = std::abs(x) < 1e-12 ? 1 : (k % 2 == 0 ? sine : -sine) / (std::numbers::pi * x);
            taps[static_cast<std::size_t>(i)] = sinc * (0.5 + 0.5 * window.real());
            window *= step;
        }
        return taps;
    }

    Turning m_turning;
    std::array<signal::DelayLine, channels> m_lines;
};

} // namespace hr::processors

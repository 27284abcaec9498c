// SPDX-License-Identifier: GPL-3.0-or-later
//
// What a signal path adds and takes away: noise, resolution, width.
#pragma once

#include "processors/reference/reference_processor.h"
#include "signal/levels.h"

#include <array>
#include <cmath>
#include <random>

namespace hr::processors {

/// White Gaussian noise of noise_dbfs (AES17 RMS) on each channel, always; the same at every start.
class AddedNoise : public ReferenceProcessor {
public:
    AddedNoise()
        : ReferenceProcessor("added-noise", "Added noise", "utility",
                             {linear("noise_dbfs", "Noise", "dBFS", -140, -20, -80)})
    {
    }

    void process(const float* const* in, float* const* out, std::size_t frames) noexcept override
    {
        const double rms = signal::dbToLinear(value(0)) / std::sqrt(2.0);
        for (std::size_t i = 0; i < frames; ++i)
            for (std::size_t c = 0; c < channels; ++c)
                out[c][i] = static_cast<float>(in[c][i] + rms * m_normal(m_random));
    }

private:
    void reset() override
    {
        m_random.seed(23);
        m_normal.reset();
    }

    std::mt19937_64 m_random;
    std::normal_distribution<double> m_normal;
};

/// Rounds to steps of 2 / 2^bits and holds every hold_samples-th sample.
class Reduction : public ReferenceProcessor {
public:
    Reduction()
        : ReferenceProcessor(
              "reduction", "Bit and rate reduction", "resolution",
              {integer("bits", "Bits", "", 2, 24, 8), integer("hold_samples", "Hold", "samples", 1, 64, 1)})
    {
    }

    void process(const float* const* in, float* const* out, std::size_t frames) noexcept override
    {
        const double steps = std::exp2(value(0) - 1);
        const auto hold = static_cast<std::size_t>(value(1));
        for (std::size_t i = 0; i < frames; ++i, m_at = (m_at + 1) % hold)
            for (std::size_t c = 0; c < channels; ++c) {
                if (m_at == 0)
                    m_held[c] = static_cast<float>(std::round(in[c][i] * steps) / steps);
                out[c][i] = m_held[c];
            }
    }

private:
    void reset() override { m_at = 0; }

    std::size_t m_at = 0;
    std::array<float, channels> m_held{};
};

/// The side signal (half the difference) by width_db against the mid.
class Width : public ReferenceProcessor {
public:
    Width()
        : ReferenceProcessor("width", "Mid-side width", "stereo",
                             {linear("width_db", "Width", "dB", -40, 24, 0)})
    {
    }

    void process(const float* const* in, float* const* out, std::size_t frames) noexcept override
    {
        const double gain = signal::dbToLinear(value(0));
        for (std::size_t i = 0; i < frames; ++i) {
            const double mid = 0.5 * (static_cast<double>(in[0][i]) + in[1][i]);
            const double side = gain * 0.5 * (static_cast<double>(in[0][i]) - in[1][i]);
            out[0][i] = static_cast<float>(mid + side);
            out[1][i] = static_cast<float>(mid - side);
        }
    }
};

} // namespace hr::processors

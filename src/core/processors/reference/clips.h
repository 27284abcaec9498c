// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "processors/reference/reference_processor.h"
#include "signal/levels.h"

#include <algorithm>

namespace hr::processors {

/// A curve from sample to sample, without memory; no oversampling, so that its harmonics fold as paper says.
class Clip : public ReferenceProcessor {
public:
    Clip(const std::string& name, const std::string& title)
        : ReferenceProcessor(name, title, "saturation", {linear("clip_dbfs", "Clip level", "dBFS", -40, 0, -6)})
    {
    }

protected:
    double m_limit = 1;

private:
    void changed() noexcept override { m_limit = signal::dbToLinear(value(0)); }
};

/// Cuts off at +-10^(clip_dbfs / 20).
class HardClip : public Clip {
public:
    HardClip() : Clip("hard-clip", "Hard clip") {}

    void process(const float* const* in, float* const* out, std::size_t frames) noexcept override
    {
        const auto limit = static_cast<float>(m_limit);
        for (std::size_t c = 0; c < channels; ++c)
            for (std::size_t i = 0; i < frames; ++i)
                out[c][i] = std::clamp(in[c][i], -limit, limit);
    }
};

/// y = L (1.5 u - 0.5 u^3) with u = x / L within +-L = 10^(clip_dbfs / 20), flat beyond: a sine of amplitude
/// a L leaves as one of (1.5 a - 0.375 a^3) L and its third harmonic of a^3 L / 8, and nothing else.
class CubicClip : public Clip {
public:
    CubicClip() : Clip("cubic-clip", "Cubic clip") {}

    void process(const float* const* in, float* const* out, std::size_t frames) noexcept override
    {
        for (std::size_t c = 0; c < channels; ++c)
            for (std::size_t i = 0; i < frames; ++i) {
                const double u = std::clamp(in[c][i] / m_limit, -1.0, 1.0);
                out[c][i] = static_cast<float>(m_limit * (1.5 * u - 0.5 * u * u * u));
            }
    }
};

} // namespace hr::processors

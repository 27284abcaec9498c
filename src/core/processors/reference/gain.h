// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "processors/reference/reference_processor.h"
#include "signal/levels.h"

namespace hr::processors {

/// Multiplies by 10^(gain_db / 20) in double precision.
class Gain : public ReferenceProcessor {
public:
    Gain() : ReferenceProcessor("gain", "Gain", "utility", {linear("gain_db", "Gain", "dB", -60, 24, 0)}) {}

    void process(const float* const* in, float* const* out, std::size_t frames) noexcept override
    {
        for (std::size_t c = 0; c < channels; ++c)
            for (std::size_t i = 0; i < frames; ++i)
                out[c][i] = static_cast<float>(in[c][i] * m_gain);
    }

private:
    void changed() noexcept override { m_gain = signal::dbToLinear(value(0)); }

    double m_gain = 1;
};

} // namespace hr::processors

// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "processors/reference/reference_processor.h"
#include "signal/biquad.h"

#include <algorithm>
#include <array>

namespace hr::processors {

/// Up to four second-order sections in a row; their design is the subclass's.
class FilterProcessor : public ReferenceProcessor {
public:
    using ReferenceProcessor::ReferenceProcessor;

    void process(const float* const* in, float* const* out, std::size_t frames) noexcept override
    {
        for (std::size_t c = 0; c < channels; ++c)
            for (std::size_t i = 0; i < frames; ++i) {
                double x = in[c][i];
                for (std::size_t s = 0; s < m_count; ++s)
                    x = m_states[c][s].next(m_sections[s], x);
                out[c][i] = static_cast<float>(x);
            }
    }

protected:
    static constexpr std::size_t most_sections = 4;

    void reset() override
    {
        m_states = {};
        changed();
    }
    /// A frequency that the filter can have at this rate.
    double usable(double frequency_hz) const { return std::min(frequency_hz, 0.49 * sampleRateHz()); }

    std::array<signal::Biquad, most_sections> m_sections{};
    std::size_t m_count = 0;

private:
    std::array<std::array<signal::BiquadState, most_sections>, channels> m_states{};
};

/// Butterworth low or high pass of 2nd, 4th, 6th or 8th order: -3.01 dB at frequency_hz exactly.
class Pass : public FilterProcessor {
public:
    using Design = signal::Biquad (*)(double frequency_hz, double q, double sample_rate_hz);

    Pass(const char* name, const char* title, double default_hz, Design design)
        : FilterProcessor(name, title, "filter",
                          {logarithmic("frequency_hz", "Frequency", "Hz", 20, 20000, default_hz),
                           choice("order", "Order", {{2, "2nd"}, {4, "4th"}, {6, "6th"}, {8, "8th"}})}),
          m_design(design)
    {
    }

private:
    void changed() noexcept override
    {
        const int order = 2 * std::clamp(static_cast<int>(value(1)) / 2, 1, static_cast<int>(most_sections));
        m_count = static_cast<std::size_t>(order) / 2;
        for (int k = 0; k < order / 2; ++k)
            m_sections[static_cast<std::size_t>(k)] =
                m_design(usable(value(0)), signal::butterworthQ(k, order), sampleRateHz());
    }

    Design m_design;
};

struct LowPass : Pass {
    LowPass() : Pass("low-pass", "Low pass", 2000, signal::lowPass) {}
};
struct HighPass : Pass {
    HighPass() : Pass("high-pass", "High pass", 200, signal::highPass) {}
};

/// One section of the cookbook's equalisers.
class Bell : public FilterProcessor {
public:
    using Design = signal::Biquad (*)(double frequency_hz, double gain_db, double q, double sample_rate_hz);

    Bell(const char* name, const char* title, double default_hz, double default_q, Design design)
        : FilterProcessor(name, title, "equaliser",
                          {logarithmic("frequency_hz", "Frequency", "Hz", 20, 20000, default_hz),
                           linear("gain_db", "Gain", "dB", -24, 24, 6),
                           logarithmic("q", "Q", "", 0.1, 30, default_q)}),
          m_design(design)
    {
    }

private:
    void changed() noexcept override
    {
        m_count = 1;
        m_sections[0] = m_design(usable(value(0)), value(1), value(2), sampleRateHz());
    }

    Design m_design;
};

struct PeakFilter : Bell {
    PeakFilter() : Bell("peak-filter", "Peak filter", 1000, 1, signal::peaking) {}
};
struct LowShelf : Bell {
    LowShelf() : Bell("low-shelf", "Low shelf", 200, 0.7071, signal::lowShelf) {}
};
struct HighShelf : Bell {
    HighShelf() : Bell("high-shelf", "High shelf", 5000, 0.7071, signal::highShelf) {}
};

} // namespace hr::processors

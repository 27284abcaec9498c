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

/// Butterworth low pass of 2nd, 4th, 6th or 8th order: -3.01 dB at frequency_hz exactly.
class LowPass : public FilterProcessor {
public:
    LowPass()
        : FilterProcessor(
              "low-pass", "Low pass", "filter",
              {{"frequency_hz", "Frequency", "Hz", 20, 20000, 2000, Scale::Logarithmic, {}, {}, false},
               {"order",
                "Order",
                "",
                2,
                8,
                2,
                Scale::Choice,
                {{2, "2nd"}, {4, "4th"}, {6, "6th"}, {8, "8th"}},
                {},
                false}})
    {
    }

private:
    void changed() noexcept override
    {
        const int order = static_cast<int>(value(1));
        m_count = static_cast<std::size_t>(order) / 2;
        for (int k = 0; k < order / 2; ++k)
            m_sections[static_cast<std::size_t>(k)] =
                signal::lowPass(usable(value(0)), signal::butterworthQ(k, order), sampleRateHz());
    }
};

/// The cookbook's peaking equaliser.
class PeakFilter : public FilterProcessor {
public:
    PeakFilter()
        : FilterProcessor(
              "peak-filter", "Peak filter", "equaliser",
              {{"frequency_hz", "Frequency", "Hz", 20, 20000, 1000, Scale::Logarithmic, {}, {}, false},
               {"gain_db", "Gain", "dB", -24, 24, 6, Scale::Linear, {}, {}, false},
               {"q", "Q", "", 0.1, 30, 1, Scale::Logarithmic, {}, {}, false}})
    {
    }

private:
    void changed() noexcept override
    {
        m_count = 1;
        m_sections[0] = signal::peaking(usable(value(0)), value(1), value(2), sampleRateHz());
    }
};

} // namespace hr::processors

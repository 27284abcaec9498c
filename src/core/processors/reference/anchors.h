// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "processors/reference/reference_processor.h"
#include "signal/convolver.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <vector>

namespace hr::processors {

/// The low-pass of a rating trial's anchors (ITU-R BS.1534-3, 2015, 5.1): flat within 0.1 dB up to cutoff_hz,
/// at least 25 dB down from 1.14 and 50 dB from 1.29 times that. Its phase is linear, a sinc under a window by
/// J. F. Kaiser (1974); the latency is reported. Settings are taken over at the start.
class AnchorLowPass : public ReferenceProcessor {
public:
    AnchorLowPass()
        : ReferenceProcessor("anchor", "Anchor of a rating trial", "filter",
                             {logarithmic("cutoff_hz", "Passes up to", "Hz", 500, 16000, 3500)})
    {
    }

    void process(const float* const* in, float* const* out, std::size_t frames) noexcept override
    {
        for (std::size_t c = 0; c < channels; ++c)
            m_convolvers[c].process(in[c], out[c], frames);
    }
    std::size_t latencySamples() const noexcept override { return m_latency; }

private:
    void reset() override
    {
        constexpr double width = 0.17; // of the transition, by the cutoff
        constexpr double stop_db = 65;
        const double per_sample = 2 * std::numbers::pi / sampleRateHz();
        const double centre = (1 + width / 2) * value(0) * per_sample;
        m_latency =
            static_cast<std::size_t>(std::ceil((stop_db - 7.95) / (2 * 2.285 * width * value(0) * per_sample)));
        const double beta = 0.1102 * (stop_db - 8.7);
        std::vector<double> response(2 * m_latency + 1);
        for (std::size_t i = 0; i < response.size(); ++i) {
            const double from_middle = static_cast<double>(i) - static_cast<double>(m_latency);
            const double along = from_middle / static_cast<double>(m_latency);
            const double window = std::cyl_bessel_i(0, beta * std::sqrt(std::max(0.0, 1 - along * along))) /
                                  std::cyl_bessel_i(0, beta);
            response[i] =
                window * (from_middle == 0 ? centre / std::numbers::pi
                                           : std::sin(centre * from_middle) / (std::numbers::pi * from_middle));
        }
        for (signal::Convolver& convolver : m_convolvers)
            convolver.setResponse(response);
    }

    std::array<signal::Convolver, channels> m_convolvers;
    std::size_t m_latency = 0;
};

} // namespace hr::processors

// SPDX-License-Identifier: GPL-3.0-or-later
//
// What delays: echoes, latency told or not, and a reverb of decaying noise.
#pragma once

#include "processors/reference/reference_processor.h"
#include "signal/convolver.h"
#include "signal/delay_line.h"
#include "signal/generators.h"
#include "signal/levels.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace hr::processors {

/// Echoes at whole multiples of delay_ms (rounded to samples), each feedback_db below the one before; the
/// first is as loud as the input. With blend below 100 % the input itself is heard too.
class FeedbackDelay : public ReferenceProcessor {
public:
    FeedbackDelay()
        : ReferenceProcessor("feedback-delay", "Delay with feedback", "delay",
                             {linear("delay_ms", "Delay", "ms", 0.1, longest_ms, 250),
                              linear("feedback_db", "Feedback", "dB", -60, -0.5, -6),
                              linear("dry_percent", "Dry", "%", 0, 100, 0)})
    {
    }

    void process(const float* const* in, float* const* out, std::size_t frames) noexcept override
    {
        for (std::size_t c = 0; c < channels; ++c)
            for (std::size_t i = 0; i < frames; ++i) {
                const double echo = m_lines[c].tap(m_delay - 1);
                m_lines[c].push(in[c][i] + m_feedback * echo);
                out[c][i] = static_cast<float>(m_dry * in[c][i] + echo);
            }
    }

private:
    static constexpr double longest_ms = 8000;

    void reset() override
    {
        for (signal::DelayLine& line : m_lines)
            line.reset(static_cast<std::size_t>(0.001 * longest_ms * sampleRateHz()) + 1);
        changed();
    }
    void changed() noexcept override
    {
        m_delay =
            std::max<std::size_t>(1, static_cast<std::size_t>(std::lround(0.001 * value(0) * sampleRateHz())));
        m_feedback = signal::dbToLinear(value(1));
        m_dry = value(2) / 100;
    }

    std::array<signal::DelayLine, channels> m_lines;
    std::size_t m_delay = 1;
    double m_feedback = 0, m_dry = 0;
};

/// The input, later; it says so or keeps it to itself.
class AddedLatency : public ReferenceProcessor {
public:
    AddedLatency()
        : ReferenceProcessor("added-latency", "Added latency", "utility",
                             {integer("latency_samples", "Latency", "samples", 0, longest, 64),
                              toggle("reported", "Reported", true)})
    {
    }

    void process(const float* const* in, float* const* out, std::size_t frames) noexcept override
    {
        const auto delay = static_cast<std::size_t>(value(0));
        for (std::size_t c = 0; c < channels; ++c)
            for (std::size_t i = 0; i < frames; ++i) {
                m_lines[c].push(in[c][i]);
                out[c][i] = static_cast<float>(m_lines[c].tap(delay));
            }
    }
    std::size_t latencySamples() const noexcept override
    {
        return value(1) > 0.5 ? static_cast<std::size_t>(value(0)) : 0;
    }

private:
    static constexpr int longest = 192000;

    void reset() override
    {
        for (signal::DelayLine& line : m_lines)
            line.reset(longest);
    }

    std::array<signal::DelayLine, channels> m_lines;
};

/// Convolution with Gaussian noise that falls by 60 dB in rt60_s, after predelay_ms of silence; each channel
/// has noise of its own, the same at every start. Settings are taken over at the start.
class NoiseReverb : public ReferenceProcessor {
public:
    NoiseReverb()
        : ReferenceProcessor("noise-reverb", "Noise reverb", "reverb",
                             {logarithmic("rt60_s", "Decay", "s", 0.1, 10, 1.5),
                              linear("predelay_ms", "Predelay", "ms", 0, 200, 20)})
    {
    }

    void process(const float* const* in, float* const* out, std::size_t frames) noexcept override
    {
        for (std::size_t c = 0; c < channels; ++c)
            m_convolvers[c].process(in[c], out[c], frames);
    }

private:
    void reset() override
    {
        // 72 dB of decay: what follows is far below every figure's reach.
        const auto frames = static_cast<std::size_t>(1.2 * value(0) * sampleRateHz());
        const auto silence = static_cast<std::size_t>(std::lround(0.001 * value(1) * sampleRateHz()));
        for (std::size_t c = 0; c < channels; ++c) {
            std::vector<double> response(silence);
            const double decay = std::log(1000.0) / (value(0) * sampleRateHz());
            // The whole response has about unit energy, so that the reverb is as loud as what it is fed.
            for (const double noise : signal::gaussianNoise(std::sqrt(2 * decay), frames, 17 + c))
                response.push_back(noise * std::exp(-decay * static_cast<double>(response.size() - silence)));
            m_convolvers[c].setResponse(response);
        }
    }

    std::array<signal::Convolver, channels> m_convolvers;
};

} // namespace hr::processors

// SPDX-License-Identifier: GPL-3.0-or-later
//
// Delays, reverbs, and a latency that is kept quiet.
#pragma once

#include "parts.h"

namespace specimens {

struct EchoSounder {
    static constexpr About about{"echo-sounder", "Echo Sounder", "Saltmarsh Instruments", "DelayPlugin",
                                 "A delay whose repeats lose their top."};
    static constexpr std::array controls{
        Control{"time_ms", "Time", "ms", 1, 2000, 375, Law::Logarithmic},
        Control{"feedback_db", "Feedback", "db", -60, -1, -8},
        Control{"damping_hz", "Damping", "hz", 500, 20000, 6000, Law::Logarithmic},
        Control{"blend_percent", "Blend", "pc", 0, 100, 30}};
    static constexpr std::array presets{Preset{"Across the water", {{{"time_ms", 620}, {"feedback_db", -5}}}},
                                        Preset{"Slap", {{{"time_ms", 90}, {"feedback_db", -40}}}}};

    explicit EchoSounder(double rate) : rate_hz(rate)
    {
        for (auto& line : lines)
            line.reset(static_cast<std::size_t>(2.1 * rate));
    }
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const Values<EchoSounder>& c)
    {
        const auto delay = static_cast<std::size_t>(0.001 * c[0] * rate_hz);
        const double dull = std::exp(-2 * std::numbers::pi * c[2] / rate_hz);
        const double blend = c[3] / 100;
        for (std::uint32_t i = 0; i < frames; ++i)
            for (std::size_t side = 0; side < 2; ++side) {
                const double echo = lines[side].tap(std::max<std::size_t>(delay, 1) - 1);
                damped[side] = echo + dull * (damped[side] - echo);
                lines[side].push(in[side][i] + fromDb(c[1]) * damped[side]);
                out[side][i] = static_cast<float>((1 - blend) * in[side][i] + blend * echo);
            }
    }

private:
    double rate_hz;
    std::array<hr::signal::DelayLine, 2> lines;
    std::array<double, 2> damped{};
};

/// From side to side.
struct DoubleQuay {
    static constexpr About about{"double-quay",
                                 "Double Quay",
                                 "Bollard Works",
                                 "DelayPlugin",
                                 "Echoes that go from one side to the other, in time with the music if asked.",
                                 2,
                                 2,
                                 0,
                                 false,
                                 true};
    static constexpr std::array controls{
        Control{"time_ms", "Time", "ms", 10, 1000, 250, Law::Logarithmic},
        Control{"feedback_percent", "Feedback", "pc", 0, 90, 45},
        Control{"blend_percent", "Blend", "pc", 0, 100, 35},
        Control{"beat", "Beat", "", 0, 3, 0, Law::Integer, "", "0=as set,1=eighth,2=dotted eighth,3=quarter"}};

    explicit DoubleQuay(double rate) : rate_hz(rate)
    {
        for (auto& line : lines)
            line.reset(static_cast<std::size_t>(1.1 * rate));
    }
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const Values<DoubleQuay>& c)
    {
        constexpr std::array beats{0.0, 0.5, 0.75, 1.0};
        const double of_beat_s = beats[static_cast<std::size_t>(c[3])] * 60 / tempo_bpm;
        const double delay_s = of_beat_s > 0 ? std::min(of_beat_s, 1.05) : 0.001 * c[0];
        const auto delay = static_cast<std::size_t>(delay_s * rate_hz);
        const double blend = c[2] / 100;
        for (std::uint32_t i = 0; i < frames; ++i) {
            const std::array<double, 2> echo{lines[0].tap(delay - 1), lines[1].tap(delay - 1)};
            lines[0].push(0.5 * (in[0][i] + in[1][i]) + 0.01 * c[1] * echo[1]);
            lines[1].push(0.01 * c[1] * echo[0]);
            for (std::size_t side = 0; side < 2; ++side)
                out[side][i] = static_cast<float>((1 - blend) * in[side][i] + blend * echo[side]);
        }
    }

    double tempo_bpm = 120; ///< until it is told another

private:
    double rate_hz;
    std::array<hr::signal::DelayLine, 2> lines;
};

/// A feedback network of eight lines mixed by a Hadamard matrix.
struct Boathouse {
    static constexpr About about{"boathouse", "Boathouse", "Kelp & Cordage", "ReverbPlugin",
                                 "A wooden room of eight delay lines that feed each other."};
    static constexpr std::array controls{Control{"decay_s", "Decay", "s", 0.2F, 10, 1.6F, Law::Logarithmic},
                                         Control{"predelay_ms", "Predelay", "ms", 0, 150, 15},
                                         Control{"size_percent", "Size", "pc", 40, 200, 100},
                                         Control{"blend_percent", "Blend", "pc", 0, 100, 25}};
    static constexpr std::array presets{Preset{"Slipway", {{{"decay_s", 0.6F}, {"size_percent", 60}}}},
                                        Preset{"Dry dock", {{{"decay_s", 3.5F}, {"size_percent", 170}}}}};

    explicit Boathouse(double rate) : rate_hz(rate)
    {
        for (auto& line : lines)
            line.reset(static_cast<std::size_t>(0.25 * rate));
        for (auto& line : before)
            line.reset(static_cast<std::size_t>(0.2 * rate));
    }
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const Values<Boathouse>& c)
    {
        constexpr std::array lengths_ms{29.7, 37.1, 41.1, 43.7, 53.3, 59.9, 67.3, 73.7};
        const double blend = c[3] / 100;
        std::array<std::size_t, 8> delays{};
        std::array<double, 8> gains{};
        for (std::size_t k = 0; k < 8; ++k) {
            delays[k] = static_cast<std::size_t>(1e-5 * lengths_ms[k] * c[2] * rate_hz);
            gains[k] = std::pow(10.0, -3.0 * static_cast<double>(delays[k]) / (c[0] * rate_hz));
        }
        const auto wait = static_cast<std::size_t>(0.001 * c[1] * rate_hz);
        for (std::uint32_t i = 0; i < frames; ++i) {
            std::array<double, 8> heard{};
            for (std::size_t k = 0; k < 8; ++k)
                heard[k] = gains[k] * lines[k].tap(delays[k] - 1);
            std::array<double, 2> wet{};
            for (std::size_t side = 0; side < 2; ++side) {
                before[side].push(in[side][i]);
                for (std::size_t k = side; k < 8; k += 2)
                    wet[side] += (k % 4 < 2 ? 0.5 : -0.5) * heard[k];
            }
            for (std::size_t step = 1; step < 8; step *= 2) // Hadamard, in three passes
                for (std::size_t k = 0; k < 8; ++k)
                    if ((k & step) == 0) {
                        const double a = heard[k];
                        const double b = heard[k | step];
                        heard[k] = std::numbers::sqrt2 / 2 * (a + b);
                        heard[k | step] = std::numbers::sqrt2 / 2 * (a - b);
                    }
            for (std::size_t k = 0; k < 8; ++k)
                lines[k].push(heard[k] + 0.5 * before[k % 2].tap(wait));
            for (std::size_t side = 0; side < 2; ++side)
                out[side][i] = static_cast<float>((1 - blend) * in[side][i] + blend * wet[side]);
        }
    }

private:
    double rate_hz;
    std::array<hr::signal::DelayLine, 8> lines;
    std::array<hr::signal::DelayLine, 2> before;
};

/// A row of all-passes: density at once, no colour to speak of.
struct ChartRoom {
    static constexpr About about{"chart-room",
                                 "Chart Room",
                                 "Ferrylight",
                                 "ReverbPlugin",
                                 "A very small room, mono in, stereo out.",
                                 1,
                                 2};
    static constexpr std::array controls{Control{"blend_percent", "Blend", "pc", 0, 100, 30}};

    explicit ChartRoom(double rate)
    {
        for (std::size_t side = 0; side < 2; ++side)
            for (std::size_t k = 0; k < 4; ++k) {
                length[side][k] = static_cast<std::size_t>(
                    (3.1 + 2.7 * static_cast<double>(k) + 0.4 * static_cast<double>(side)) * 0.001 * rate);
                lines[side][k].reset(length[side][k]);
            }
    }
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const Values<ChartRoom>& c)
    {
        const double blend = c[0] / 100;
        for (std::uint32_t i = 0; i < frames; ++i)
            for (std::size_t side = 0; side < 2; ++side) {
                double x = in[0][i];
                for (std::size_t k = 0; k < 4; ++k) {
                    const double late = lines[side][k].tap(length[side][k] - 1);
                    const double fed = x + 0.6 * late;
                    lines[side][k].push(fed);
                    x = late - 0.6 * fed;
                }
                out[side][i] = static_cast<float>((1 - blend) * in[0][i] + blend * x);
            }
    }

private:
    std::array<std::array<std::size_t, 4>, 2> length{};
    std::array<std::array<hr::signal::DelayLine, 4>, 2> lines;
};

/// 64 samples late, and silent about it.
struct DeepKeel {
    static constexpr About about{"deep-keel", "Deep Keel", "Bollard Works", "AmplifierPlugin",
                                 "A level control that is 64 samples late and does not say so."};
    static constexpr std::array controls{Control{"gain_db", "Gain", "db", -24, 24, 0}};

    explicit DeepKeel(double)
    {
        for (auto& line : lines)
            line.reset(64);
    }
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const Values<DeepKeel>& c)
    {
        for (std::uint32_t i = 0; i < frames; ++i)
            for (std::size_t side = 0; side < 2; ++side) {
                lines[side].push(in[side][i]);
                out[side][i] = static_cast<float>(fromDb(c[0]) * lines[side].tap(64));
            }
    }

private:
    std::array<hr::signal::DelayLine, 2> lines;
};

} // namespace specimens

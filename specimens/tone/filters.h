// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "parts.h"
#include "signal/biquad.h"

namespace specimens {

/// Fourth-order high and low pass.
struct Breakwater {
    static constexpr About about{"breakwater", "Breakwater", "Bollard Works", "FilterPlugin",
                                 "A high and a low pass of 24 dB an octave, for what should stay outside."};
    static constexpr std::array controls{
        Control{"high_pass_hz", "High pass", "hz", 10, 2000, 40, Law::Logarithmic},
        Control{"low_pass_hz", "Low pass", "hz", 500, 22000, 18000, Law::Logarithmic}};
    static constexpr std::array presets{
        Preset{"Telephone kiosk", {{{"high_pass_hz", 350}, {"low_pass_hz", 3200}}}}};

    explicit Breakwater(double rate) : rate_hz(rate) {}
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const Values<Breakwater>& c)
    {
        const auto usable = [this](double hz) { return std::min(hz, 0.47 * rate_hz); };
        std::array<hr::signal::Biquad, 4> sections{};
        for (int k = 0; k < 2; ++k) {
            const double q = hr::signal::butterworthQ(k, 4);
            sections[static_cast<std::size_t>(k)] = hr::signal::highPass(usable(c[0]), q, rate_hz);
            sections[static_cast<std::size_t>(2 + k)] = hr::signal::lowPass(usable(c[1]), q, rate_hz);
        }
        for (std::size_t side = 0; side < 2; ++side)
            for (std::uint32_t i = 0; i < frames; ++i) {
                double x = in[side][i];
                for (std::size_t s = 0; s < sections.size(); ++s)
                    x = states[side][s].next(sections[s], x);
                out[side][i] = static_cast<float>(x);
            }
    }

private:
    double rate_hz;
    std::array<std::array<hr::signal::BiquadState, 4>, 2> states{};
};

struct BreakwaterMono : Mono<Breakwater> {
    using Mono::Mono;
    static constexpr About about{"breakwater-mono",
                                 "Breakwater Mono",
                                 "Bollard Works",
                                 "FilterPlugin",
                                 "The mono build of Breakwater.",
                                 1,
                                 1};
};

/// Says one frequency and filters at another.
struct DriftCompass {
    static constexpr About about{"drift-compass", "Drift Compass", "Ferrylight", "EQPlugin",
                                 "One bell. It points a fifth of the way off the frequency it shows."};
    static constexpr std::array controls{
        Control{"frequency_hz", "Frequency", "hz", 50, 12000, 1000, Law::Logarithmic},
        Control{"gain_db", "Gain", "db", -15, 15, 6}, Control{"q", "Q", "", 0.3F, 8, 1.4F, Law::Logarithmic}};

    explicit DriftCompass(double rate) : rate_hz(rate) {}
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const Values<DriftCompass>& c)
    {
        const auto bell = hr::signal::peaking(std::min(1.2 * c[0], 0.45 * rate_hz), c[1], c[2], rate_hz);
        for (std::size_t side = 0; side < 2; ++side)
            for (std::uint32_t i = 0; i < frames; ++i)
                out[side][i] = static_cast<float>(states[side].next(bell, in[side][i]));
    }

private:
    double rate_hz;
    std::array<hr::signal::BiquadState, 2> states{};
};

/// Adds air, and level with it.
struct Brightwork {
    static constexpr About about{
        "brightwork", "Brightwork", "Ferrylight", "EQPlugin",
        "A lift of the top. It also lifts everything else by 2 dB, and does not say so."};
    static constexpr std::array controls{Control{"air_db", "Air", "db", 0, 12, 1}};

    explicit Brightwork(double rate) : rate_hz(rate) {}
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const Values<Brightwork>& c)
    {
        const auto shelf = hr::signal::highShelf(std::min(9000.0, 0.4 * rate_hz), c[0], 0.7071, rate_hz);
        for (std::size_t side = 0; side < 2; ++side)
            for (std::uint32_t i = 0; i < frames; ++i)
                out[side][i] = static_cast<float>(fromDb(2) * states[side].next(shelf, in[side][i]));
    }

private:
    double rate_hz;
    std::array<hr::signal::BiquadState, 2> states{};
};

} // namespace specimens

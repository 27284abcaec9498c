// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "specimen.h"

#include <cmath>

namespace specimens {

/// tanh with an offset that makes it lopsided (even harmonics), the offset's own DC taken out again
/// by a one-pole high pass at 5 Hz.
struct LanternSaturator {
    static constexpr About about{"lantern-saturator", "Lantern Glow", "Ninth Groyne", "WaveshaperPlugin",
                                 "Soft saturation; colour makes it lopsided and adds even harmonics."};
    static constexpr std::array controls{Control{"drive_db", "Drive", "db", 0, 36, 9},
                                         Control{"colour_percent", "Colour", "pc", 0, 100, 30},
                                         Control{"output_db", "Output", "db", -24, 12, 0}};
    static constexpr std::array presets{
        Preset{"Warm deck", {{{"drive_db", 6}, {"colour_percent", 60}}}},
        Preset{"Foghorn", {{{"drive_db", 24}, {"colour_percent", 15}, {"output_db", -9}}}}};

    explicit LanternSaturator(double sample_rate_hz)
        : pole(std::exp(-2 * 3.14159265358979 * 5 / sample_rate_hz))
    {
    }

    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames,
                 const std::array<float, controls.size()>& c)
    {
        const double drive = std::pow(10.0, c[0] / 20);
        const double offset = 0.005 * c[1];
        const double level = std::pow(10.0, c[2] / 20);
        const double rest = std::tanh(offset);
        for (std::size_t side = 0; side < 2; ++side)
            for (std::uint32_t i = 0; i < frames; ++i) {
                const double x = std::tanh(drive * in[side][i] + offset) - rest;
                held[side] = x - last[side] + pole * held[side];
                last[side] = x;
                out[side][i] = static_cast<float>(level * held[side]);
            }
    }

private:
    double pole;
    std::array<double, 2> last{}, held{};
};

} // namespace specimens

// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "signal/biquad.h"
#include "specimen.h"

#include <algorithm>

namespace specimens {

/// Four bands: low shelf, two peaks, high shelf.
struct TidepoolEqualiser {
    static constexpr About about{
        "tidepool-equaliser", "Tidepool Four", "Saltmarsh Instruments", "ParaEQPlugin",
        "Four bands: a low shelf at 120 Hz, two bells, a high shelf at 8 kHz. Flat at its defaults."};
    static constexpr std::array controls{
        Control{"low_db", "Low shelf", "db", -18, 18, 0, Law::Linear, "Low"},
        Control{"bell1_hz", "Bell 1 frequency", "hz", 30, 16000, 350, Law::Logarithmic, "Bell 1"},
        Control{"bell1_db", "Bell 1 gain", "db", -18, 18, 0, Law::Linear, "Bell 1"},
        Control{"bell1_q", "Bell 1 Q", "", 0.2F, 12, 1, Law::Logarithmic, "Bell 1"},
        Control{"bell2_hz", "Bell 2 frequency", "hz", 30, 16000, 3200, Law::Logarithmic, "Bell 2"},
        Control{"bell2_db", "Bell 2 gain", "db", -18, 18, 0, Law::Linear, "Bell 2"},
        Control{"bell2_q", "Bell 2 Q", "", 0.2F, 12, 1, Law::Logarithmic, "Bell 2"},
        Control{"high_db", "High shelf", "db", -18, 18, 0, Law::Linear, "High"}};
    static constexpr std::array presets{
        Preset{"Brass in a hall", {{{"low_db", -2}, {"bell1_db", -3}, {"bell2_db", 3}, {"high_db", 1}}}},
        Preset{"Spoken guide",
               {{{"low_db", -6}, {"bell1_hz", 220}, {"bell1_db", -2}, {"bell2_hz", 4200}, {"bell2_db", 3}}}}};

    explicit TidepoolEqualiser(double sample_rate_hz) : rate_hz(sample_rate_hz) {}

    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames,
                 const std::array<float, controls.size()>& c)
    {
        namespace design = hr::signal;
        if (c != current) {
            current = c;
            const auto usable = [this](float hz) { return std::min(static_cast<double>(hz), 0.45 * rate_hz); };
            bands = {design::lowShelf(120, c[0], 0.7071, rate_hz),
                     design::peaking(usable(c[1]), c[2], c[3], rate_hz),
                     design::peaking(usable(c[4]), c[5], c[6], rate_hz),
                     design::highShelf(usable(8000), c[7], 0.7071, rate_hz)};
        }
        for (std::size_t side = 0; side < 2; ++side)
            for (std::uint32_t i = 0; i < frames; ++i) {
                double x = in[side][i];
                for (std::size_t b = 0; b < bands.size(); ++b)
                    x = states[side][b].next(bands[b], x);
                out[side][i] = static_cast<float>(x);
            }
    }

private:
    double rate_hz;
    std::array<float, controls.size()> current{};
    std::array<hr::signal::Biquad, 4> bands{};
    std::array<std::array<hr::signal::BiquadState, 4>, 2> states{};
};

} // namespace specimens

// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "signal/biquad.h"
#include "specimen.h"

#include <algorithm>

namespace specimens {

/// Four bands: low shelf, two peaks, high shelf.
struct TidepoolEqualiser {
    static constexpr int controls = 8; // low gain, bell 1 frequency/gain/q, bell 2 frequency/gain/q, high gain

    explicit TidepoolEqualiser(double sample_rate_hz) : rate_hz(sample_rate_hz) {}

    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames,
                 const std::array<float, controls>& c)
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
    std::array<float, controls> current{};
    std::array<hr::signal::Biquad, 4> bands{};
    std::array<std::array<hr::signal::BiquadState, 4>, 2> states{};
};

} // namespace specimens

// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "specimen.h"

#include <algorithm>
#include <cmath>

namespace specimens {

/// A feed-forward compressor with a quadratic knee, both channels held together. Its switched-in
/// loudness flatters: it adds make-up by default, as such devices do.
struct CordageLeveller {
    static constexpr About about{
        "cordage-leveller", "Cordage Leveller", "Kelp & Cordage", "CompressorPlugin",
        "A compressor that holds both channels together. Its make-up gain is on by default, "
        "so that it seems better than it is until it is matched."};
    static constexpr std::array controls{Control{"threshold_db", "Threshold", "db", -60, 0, -24},
                                         Control{"ratio", "Ratio", ":1", 1, 20, 3, Law::Logarithmic},
                                         Control{"knee_db", "Knee", "db", 0, 24, 6},
                                         Control{"attack_ms", "Attack", "ms", 0.1F, 200, 15, Law::Logarithmic},
                                         Control{"release_ms", "Release", "ms", 5, 2000, 180, Law::Logarithmic},
                                         Control{"makeup_db", "Make-up", "db", 0, 24, 4}};
    static constexpr std::array presets{
        Preset{
            "Slow hands",
            {{{"threshold_db", -28}, {"ratio", 2}, {"attack_ms", 60}, {"release_ms", 600}, {"makeup_db", 3}}}},
        Preset{
            "Tight mooring",
            {{{"threshold_db", -32}, {"ratio", 8}, {"attack_ms", 1}, {"release_ms", 60}, {"makeup_db", 9}}}}};

    explicit CordageLeveller(double sample_rate_hz) : rate_hz(sample_rate_hz) {}

    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames,
                 const std::array<float, controls.size()>& c)
    {
        const double attack = std::exp(-1.0 / (0.001 * c[3] * rate_hz));
        const double release = std::exp(-1.0 / (0.001 * c[4] * rate_hz));
        for (std::uint32_t i = 0; i < frames; ++i) {
            const double peak = std::max(std::abs(in[0][i]), std::abs(in[1][i]));
            const double wanted_db = reduction(20 * std::log10(peak + 1e-9), c[0], c[1], c[2]);
            // The gain itself is smoothed, in dB: attack towards more reduction, release back.
            const double pole = wanted_db < gain_db ? attack : release;
            gain_db = wanted_db + pole * (gain_db - wanted_db);
            const auto gain = static_cast<float>(std::pow(10.0, (gain_db + c[5]) / 20));
            for (std::size_t side = 0; side < 2; ++side)
                out[side][i] = in[side][i] * gain;
        }
    }

private:
    /// Giannoulis, Massberg, Reiss, "Digital dynamic range compressor design", JAES 60, 2012, eq. 4.
    static double reduction(double level_db, double threshold_db, double ratio, double knee_db)
    {
        const double over = level_db - threshold_db;
        if (2 * over < -knee_db)
            return 0;
        if (2 * std::abs(over) <= knee_db)
            return (1 / ratio - 1) * (over + knee_db / 2) * (over + knee_db / 2) / (2 * knee_db);
        return (1 / ratio - 1) * over;
    }

    double rate_hz;
    double gain_db = 0;
};

} // namespace specimens

// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "parts.h"
#include "signal/biquad.h"
#include "signal/sliding_maximum.h"

namespace specimens {

struct LockGate {
    static constexpr About about{"lock-gate", "Lock Gate", "Kelp & Cordage", "GatePlugin",
                                 "A gate with hold, for drums and for rooms that never sleep."};
    static constexpr std::array controls{
        Control{"threshold_db", "Threshold", "db", -80, 0, -45}, Control{"range_db", "Range", "db", 3, 90, 40},
        Control{"attack_ms", "Attack", "ms", 0.1F, 50, 1, Law::Logarithmic},
        Control{"hold_ms", "Hold", "ms", 3, 500, 40},
        Control{"release_ms", "Release", "ms", 5, 2000, 150, Law::Logarithmic}};
    static constexpr std::array presets{Preset{"Frame drum", {{{"threshold_db", -35}, {"hold_ms", 80}}}}};

    explicit LockGate(double rate) : rate_hz(rate) { peak.reset(static_cast<std::size_t>(0.51 * rate)); }
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const Values<LockGate>& c)
    {
        peak.setLength(static_cast<std::size_t>(0.001 * c[3] * rate_hz));
        for (std::uint32_t i = 0; i < frames; ++i) {
            const double level_db = toDb(peak.next(std::max(std::abs(in[0][i]), std::abs(in[1][i]))));
            rider.next(level_db >= c[0] ? 0 : -c[1], poleFor(c[4], rate_hz), poleFor(c[2], rate_hz));
            for (std::size_t side = 0; side < 2; ++side)
                out[side][i] = static_cast<float>(in[side][i] * fromDb(rider.gain_db));
        }
    }

private:
    double rate_hz;
    hr::signal::SlidingMaximum peak;
    Rider rider;
};

struct BosunsWhistle {
    static constexpr About about{"bosuns-whistle", "Bosun's Whistle", "Saltmarsh Instruments", "DynamicsPlugin",
                                 "A de-esser: turns the whole down while the top is loud."};
    static constexpr std::array controls{
        Control{"frequency_hz", "Frequency", "hz", 2000, 12000, 5500, Law::Logarithmic},
        Control{"threshold_db", "Threshold", "db", -60, 0, -36}, Control{"range_db", "Range", "db", 0, 24, 9}};

    explicit BosunsWhistle(double rate) : rate_hz(rate) {}
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const Values<BosunsWhistle>& c)
    {
        const auto top = hr::signal::highPass(std::min<double>(c[0], 0.45 * rate_hz), 0.7071, rate_hz);
        for (std::uint32_t i = 0; i < frames; ++i) {
            const double hiss = std::abs(state.next(top, 0.5 * (in[0][i] + in[1][i])));
            const double over_db = std::max(0.0, toDb(hiss) - c[1]);
            rider.next(-std::min<double>(c[2], 0.75 * over_db), poleFor(0.5, rate_hz), poleFor(60, rate_hz));
            for (std::size_t side = 0; side < 2; ++side)
                out[side][i] = static_cast<float>(in[side][i] * fromDb(rider.gain_db));
        }
    }

private:
    double rate_hz;
    hr::signal::BiquadState state;
    Rider rider;
};

} // namespace specimens

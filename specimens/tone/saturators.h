// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "parts.h"

namespace specimens {

/// Odd harmonics only: the same curve on both sides.
struct BarnacleDrive {
    static constexpr About about{"barnacle-drive", "Barnacle", "Kelp & Cordage", "DistortionPlugin",
                                 "A symmetrical soft clip: odd harmonics only."};
    static constexpr std::array controls{
        Control{"drive_db", "Drive", "db", 0, 36, 12},
        Control{"curve", "Curve", "", 0, 1, 0, Law::Integer, "", "0=soft,1=hard"}};
    static constexpr std::array presets{Preset{"Encrusted", {{{"drive_db", 30}, {"curve", 1}}}}};

    explicit BarnacleDrive(double) {}
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const Values<BarnacleDrive>& c)
    {
        const double drive = fromDb(c[0]);
        for (std::size_t side = 0; side < 2; ++side)
            for (std::uint32_t i = 0; i < frames; ++i) {
                const double x = drive * in[side][i];
                out[side][i] =
                    static_cast<float>(0.5 * (c[1] < 0.5F ? std::tanh(x) : std::clamp(x, -1.0, 1.0)));
            }
    }
};

/// Fewer bits, fewer samples.
struct RustBucket {
    static constexpr About about{"rust-bucket", "Rust Bucket", "Ninth Groyne", "DistortionPlugin",
                                 "Fewer bits and held samples."};
    static constexpr std::array controls{Control{"bits", "Bits", "", 2, 16, 10, Law::Integer},
                                         Control{"hold", "Hold", "frame", 1, 32, 2, Law::Integer}};

    explicit RustBucket(double) {}
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const Values<RustBucket>& c)
    {
        const double steps = std::exp2(c[0] - 1);
        for (std::uint32_t i = 0; i < frames; ++i, at = (at + 1) % static_cast<std::uint32_t>(c[1]))
            for (std::size_t side = 0; side < 2; ++side) {
                if (at == 0)
                    held[side] = static_cast<float>(std::round(in[side][i] * steps) / steps);
                out[side][i] = held[side];
            }
    }

private:
    std::uint32_t at = 0;
    std::array<float, 2> held{};
};

/// Hiss and hum, as an old path would have.
struct BilgePump {
    static constexpr About about{"bilge-pump", "Bilge Pump", "Saltmarsh Instruments", "SimulatorPlugin",
                                 "The noise and the hum of an old path, without the path."};
    static constexpr std::array controls{
        Control{"hiss_db", "Hiss", "db", -100, -30, -66}, Control{"hum_db", "Hum", "db", -100, -30, -60},
        Control{"mains_hz", "Mains", "hz", 50, 60, 50, Law::Integer, "", "50=50,60=60"}};

    explicit BilgePump(double rate) : rate_hz(rate) {}
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const Values<BilgePump>& c)
    {
        for (std::uint32_t i = 0; i < frames; ++i) {
            const double hum = fromDb(c[1]) * (mains.next(c[2], rate_hz) + 0.4 * third.next(3 * c[2], rate_hz));
            for (std::size_t side = 0; side < 2; ++side)
                out[side][i] = static_cast<float>(in[side][i] + hum + fromDb(c[0]) * hiss.next());
        }
    }

private:
    double rate_hz;
    Wheel mains, third;
    Hiss hiss;
};

/// Silent until something has been played; then it leaves noise in the pauses.
struct FogSignal {
    static constexpr About about{"fog-signal", "Fog Signal", "Ferrylight", "WaveshaperPlugin",
                                 "Gentle saturation. In the pauses after a sound it breathes."};
    static constexpr std::array controls{Control{"drive_db", "Drive", "db", 0, 18, 3}};

    explicit FogSignal(double rate) : rate_hz(rate) {}
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const Values<FogSignal>& c)
    {
        const double drive = fromDb(c[0]);
        for (std::uint32_t i = 0; i < frames; ++i) {
            const double peak = std::max(std::abs(in[0][i]), std::abs(in[1][i]));
            breath = std::max(breath * poleFor(4000, rate_hz), std::min(1.0, 20 * peak));
            for (std::size_t side = 0; side < 2; ++side)
                out[side][i] = static_cast<float>(std::tanh(drive * in[side][i]) / drive +
                                                  (peak < 1e-4 ? 0.0004 * breath * hiss.next() : 0));
        }
    }

private:
    double rate_hz, breath = 0;
    Hiss hiss;
};

} // namespace specimens

// SPDX-License-Identifier: GPL-3.0-or-later
//
// Compressors of several characters, and a limiter.
#pragma once

#include "parts.h"
#include "signal/sliding_maximum.h"

namespace specimens {

/// Slow and kind: detects power, and lets go the slower the longer it has held.
struct LighthouseOpto {
    static constexpr About about{
        "lighthouse-opto", "Lighthouse Keeper", "Ferrylight", "CompressorPlugin",
        "A slow compressor that detects power. Its release lengthens with how long it has worked."};
    static constexpr std::array controls{Control{"reduction", "Peak reduction", "pc", 0, 100, 40},
                                         Control{"output_db", "Output", "db", -12, 24, 0}};
    static constexpr std::array presets{Preset{"Gentle beam", {{{"reduction", 25}}}},
                                        Preset{"Steady beam", {{{"reduction", 65}, {"output_db", 6}}}}};

    explicit LighthouseOpto(double rate) : rate_hz(rate) {}
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const Values<LighthouseOpto>& c)
    {
        const double threshold_db = -0.5 * c[0];
        const double output = fromDb(c[1]);
        for (std::uint32_t i = 0; i < frames; ++i) {
            power += (0.5 * (in[0][i] * in[0][i] + in[1][i] * in[1][i]) - power) * (1 - poleFor(10, rate_hz));
            const double over_db = std::max(0.0, toDb(std::sqrt(2 * power)) - threshold_db);
            const double target_db = -over_db * (1 - 1 / 3.0);
            memory += ((target_db < -1 ? 1 : 0) - memory) * (1 - poleFor(2000, rate_hz));
            rider.next(target_db, poleFor(20, rate_hz), poleFor(80 + 1200 * memory, rate_hz));
            for (std::size_t side = 0; side < 2; ++side)
                out[side][i] = static_cast<float>(in[side][i] * fromDb(rider.gain_db) * output);
        }
    }

private:
    double rate_hz, power = 0, memory = 0;
    Rider rider;
};

/// Listens to its own output, or to its key.
struct WinchBus {
    static constexpr About about{"winch-bus",
                                 "Winch",
                                 "Bollard Works",
                                 "CompressorPlugin",
                                 "A feedback compressor for whole mixes, with a key input.",
                                 2,
                                 2,
                                 2};
    static constexpr std::array controls{
        Control{"threshold_db", "Threshold", "db", -40, 0, -20},
        Control{"ratio", "Ratio", ":1", 2, 10, 2, Law::Integer, "", "2=2,4=4,10=10"},
        Control{"attack_ms", "Attack", "ms", 0.1F, 30, 10, Law::Logarithmic},
        Control{"release_ms", "Release", "ms", 50, 1500, 300, Law::Logarithmic},
        Control{"use_key", "Listen to key", "", 0, 1, 0, Law::Toggle}};
    static constexpr std::array presets{Preset{"Glue", {{{"threshold_db", -18}, {"attack_ms", 30}}}}};

    explicit WinchBus(double rate) : rate_hz(rate) {}
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const Values<WinchBus>& c)
    {
        const double down = poleFor(c[2], rate_hz);
        const double up = poleFor(c[3], rate_hz);
        for (std::uint32_t i = 0; i < frames; ++i) {
            const double heard = c[4] > 0.5F ? std::max(std::abs(in[2][i]), std::abs(in[3][i])) : last;
            // In feedback the slope seen from outside is 1 : ratio where the loop has ratio - 1.
            const double over_db = std::max(0.0, toDb(heard) - c[0]);
            rider.next(-over_db * (c[4] > 0.5F ? 1 - 1.0 / c[1] : c[1] - 1.0), down, up);
            last = 0;
            for (std::size_t side = 0; side < 2; ++side) {
                out[side][i] = static_cast<float>(in[side][i] * fromDb(rider.gain_db));
                last = std::max(last, std::abs(static_cast<double>(out[side][i])));
            }
        }
    }

private:
    double rate_hz, last = 0;
    Rider rider;
};

/// Looks 5 ms ahead and says so.
struct HarbourWall {
    static constexpr About about{"harbour-wall",
                                 "Harbour Wall",
                                 "Bollard Works",
                                 "LimiterPlugin",
                                 "A limiter that looks 5 ms ahead, and tells its latency.",
                                 2,
                                 2,
                                 0,
                                 true};
    static constexpr std::array controls{Control{"ceiling_db", "Ceiling", "db", -24, 0, -1},
                                         Control{"gain_db", "Gain", "db", 0, 24, 0},
                                         Control{"release_ms", "Release", "ms", 5, 1000, 80, Law::Logarithmic}};
    static constexpr std::array presets{Preset{"Loud quay", {{{"gain_db", 8}}}}};

    explicit HarbourWall(double rate) : rate_hz(rate), ahead(static_cast<std::size_t>(0.005 * rate))
    {
        for (auto& line : lines)
            line.reset(ahead);
        peak.reset(ahead + 1);
        peak.setLength(ahead + 1);
    }
    double latency() const { return static_cast<double>(ahead); }
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const Values<HarbourWall>& c)
    {
        const double ceiling = fromDb(c[0]);
        const double gain = fromDb(c[1]);
        const double up = poleFor(c[2], rate_hz);
        const double down = poleFor(1000.0 * static_cast<double>(ahead) / rate_hz / 5, rate_hz);
        for (std::uint32_t i = 0; i < frames; ++i) {
            const double now = gain * std::max(std::abs(in[0][i]), std::abs(in[1][i]));
            rider.next(std::min(0.0, toDb(ceiling) - toDb(peak.next(now))), down, up);
            for (std::size_t side = 0; side < 2; ++side) {
                lines[side].push(gain * in[side][i]);
                out[side][i] = static_cast<float>(
                    std::clamp(lines[side].tap(ahead) * fromDb(rider.gain_db), -ceiling, ceiling));
            }
        }
    }

private:
    double rate_hz;
    std::size_t ahead;
    std::array<hr::signal::DelayLine, 2> lines;
    hr::signal::SlidingMaximum peak;
    Rider rider;
};

/// Says 4:1 and does 2:1.
struct StrongboxFour {
    static constexpr About about{"strongbox-four", "Strongbox Four", "Ninth Groyne", "CompressorPlugin",
                                 "A compressor with a ratio control. What it does is half of what it says."};
    static constexpr std::array controls{
        Control{"threshold_db", "Threshold", "db", -48, 0, -24},
        Control{"ratio", "Ratio", ":1", 2, 12, 4, Law::Logarithmic},
        Control{"release_ms", "Release", "ms", 20, 1000, 120, Law::Logarithmic}};

    explicit StrongboxFour(double rate) : rate_hz(rate) {}
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const Values<StrongboxFour>& c)
    {
        const double honest = 1 + (c[1] - 1) / 3; // 4 becomes 2
        for (std::uint32_t i = 0; i < frames; ++i) {
            const double level_db = toDb(std::max(std::abs(in[0][i]), std::abs(in[1][i])));
            rider.next(-std::max(0.0, level_db - c[0]) * (1 - 1 / honest), poleFor(0.5, rate_hz),
                       poleFor(c[2], rate_hz));
            for (std::size_t side = 0; side < 2; ++side)
                out[side][i] = static_cast<float>(in[side][i] * fromDb(rider.gain_db));
        }
    }

private:
    double rate_hz;
    Rider rider;
};

} // namespace specimens

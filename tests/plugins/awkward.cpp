// SPDX-License-Identifier: GPL-3.0-or-later
//
// Honest effects with known answers that are awkward to measure, on the specimens' frame. What each does is
// fixed, and stands in its comment; tst_awkward.cpp has the figures.
#include "fixed.h"

#include <random>

namespace {

using namespace specimens;

/// Opens at -30 and closes at -38 dBFS; 40 dB; attack 2 ms, release 120 ms.
struct Hysteresis : Fixed {
    explicit Hysteresis(double rate) : Fixed(rate) { rider.gain_db = -40; }
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i) {
            const double now = level(in, i, 60); // hardly any ripple
            open = now >= -30 || (open && now >= -38);
            put(in, out, i, rider.next(open ? 0 : -40, poleFor(120, rate_hz), poleFor(2, rate_hz)));
        }
    }
    bool open = false;
};

/// Knows what comes 20 ms later, and does not say that it is late; 2:1 above -30 dBFS, 8 and 90 ms.
struct LookAhead : Fixed {
    explicit LookAhead(double rate) : Fixed(rate), ahead(static_cast<std::size_t>(0.02 * rate))
    {
        for (auto& line : lines)
            line.reset(ahead + 1);
    }
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i) {
            const double over = std::max(0.0, level(in, i) + 30);
            const double gain = fromDb(rider.next(-over / 2, poleFor(8, rate_hz), poleFor(90, rate_hz)));
            for (std::size_t side = 0; side < 2; ++side) {
                lines[side].push(in[side][i]);
                out[side][i] = static_cast<float>(lines[side].tap(ahead) * gain);
            }
        }
    }
    std::size_t ahead;
    std::array<hr::signal::DelayLine, 2> lines;
};

/// Lifts what is below -40 dBFS by half of what it lacks.
struct Upward : Fixed {
    using Fixed::Fixed;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i)
            put(in, out, i,
                rider.next(std::max(0.0, -40 - level(in, i)) / 2, poleFor(5, rate_hz), poleFor(200, rate_hz)));
    }
};

/// 2:1 below -35 dBFS; attack 1 ms, release 100 ms.
struct Expander : Fixed {
    using Fixed::Fixed;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i)
            put(in, out, i,
                rider.next(-std::max(0.0, -35 - level(in, i)), poleFor(100, rate_hz), poleFor(1, rate_hz)));
    }
};

/// Its gain comes back by 50 dB a second: how long that takes depends on the depth. 5:1 above -20 dBFS.
struct Ramped : Fixed {
    using Fixed::Fixed;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i) {
            const double target = -0.8 * std::max(0.0, level(in, i) + 20);
            gain_db = target < gain_db ? target + poleFor(2, rate_hz) * (gain_db - target)
                                       : std::min(target, gain_db + 50 / rate_hz);
            put(in, out, i, gain_db);
        }
    }
    double gain_db = 0;
};

double halfWave(double x)
{
    return std::max(0.0, x);
}
/// Eight bits by the mu-law of ITU-T G.711.
double companded(double x)
{
    const double code = std::copysign(std::log1p(255 * std::min(1.0, std::abs(x))) / std::log(256.0), x);
    return std::copysign((std::pow(256.0, std::abs(std::round(code * 128) / 128)) - 1) / 255, x);
}

/// 310 ms from side to side, -5 dB each time, beside the sound itself.
struct PingPong : Fixed {
    explicit PingPong(double rate) : Fixed(rate), delay(static_cast<std::size_t>(std::lround(0.31 * rate)))
    {
        for (auto& line : lines)
            line.reset(delay + 1);
    }
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i) {
            const std::array heard{lines[0].tap(delay - 1), lines[1].tap(delay - 1)};
            lines[0].push((in[0][i] + in[1][i]) / 2 + fromDb(-5) * heard[1]);
            lines[1].push(fromDb(-5) * heard[0]);
            for (std::size_t side = 0; side < 2; ++side)
                out[side][i] = static_cast<float>(in[side][i] + heard[side]);
        }
    }
    std::size_t delay;
    std::array<hr::signal::DelayLine, 2> lines;
};

/// 180 ms, -6 dB each time through two low passes of one pole at 2.5 kHz.
struct DarkEcho : Fixed {
    explicit DarkEcho(double rate) : Fixed(rate), delay(static_cast<std::size_t>(std::lround(0.18 * rate)))
    {
        for (auto& line : lines)
            line.reset(delay + 1);
    }
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        const double pole = std::exp(-2 * std::numbers::pi * 2500 / rate_hz);
        for (std::uint32_t i = 0; i < frames; ++i)
            for (std::size_t side = 0; side < 2; ++side) {
                const double heard = lines[side].tap(delay - 1);
                dull[side] = heard + pole * (dull[side] - heard);
                duller[side] = dull[side] + pole * (duller[side] - dull[side]);
                lines[side].push(in[side][i] + fromDb(-6) * duller[side]);
                out[side][i] = static_cast<float>(in[side][i] + heard);
            }
    }
    std::size_t delay;
    std::array<hr::signal::DelayLine, 2> lines;
    std::array<double, 2> dull{}, duller{};
};

/// Six notches that travel through three octaves once in twenty seconds.
using SlowPhaser = Phaser<12, 20, 300, 3>;

/// Down by 12 dB for half of each third of a second.
struct Chopper : Fixed {
    using Fixed::Fixed;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i) {
            cycles += 3 / rate_hz;
            put(in, out, i, cycles - std::floor(cycles) < 0.5 ? 0 : -12);
        }
    }
    double cycles = 0;
};

/// The side is cut below 150 Hz, by one pole.
struct MonoBelow : Fixed {
    using Fixed::Fixed;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        const double pole = std::exp(-2 * std::numbers::pi * 150 / rate_hz);
        for (std::uint32_t i = 0; i < frames; ++i) {
            const double mid = (in[0][i] + in[1][i]) / 2;
            const double side = (in[0][i] - in[1][i]) / 2;
            low = side + pole * (low - side);
            out[0][i] = static_cast<float>(mid + side - low);
            out[1][i] = static_cast<float>(mid - side + low);
        }
    }
    double low = 0;
};

/// Hiss of -60 dBFS (RMS, AES17) while a sound of more than -20 dBFS is not a second old; of -90 dBFS else.
struct Breathing : Fixed {
    using Fixed::Fixed;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i) {
            quiet = peakOf(in, i) > 0.1 ? 0 : quiet + 1;
            const double rms = fromDb(quiet < rate_hz ? -60 : -90) / std::numbers::sqrt2;
            for (std::size_t side = 0; side < 2; ++side)
                out[side][i] = static_cast<float>(in[side][i] + rms * normal(random));
        }
    }
    double quiet = 1e9;
    std::mt19937 random{5};
    std::normal_distribution<double> normal;
};

#define AWKWARD(Class, name) descriptor<Class>("urn:honest-rack:tests:" name)
constexpr std::array effects{AWKWARD(Hysteresis, "hysteresis"),
                             AWKWARD(LookAhead, "look-ahead"),
                             AWKWARD(Upward, "upward"),
                             AWKWARD(Expander, "expander"),
                             AWKWARD(Ramped, "ramped"),
                             AWKWARD(Waveform<halfWave>, "half-wave"),
                             AWKWARD(Waveform<companded>, "companded"),
                             AWKWARD(PingPong, "ping-pong"),
                             AWKWARD(DarkEcho, "dark-echo"),
                             AWKWARD(SlowPhaser, "slow-phaser"),
                             AWKWARD(Chopper, "chopper"),
                             AWKWARD(MonoBelow, "mono-below"),
                             AWKWARD(Breathing, "breathing")};

} // namespace

LV2_SYMBOL_EXPORT const LV2_Descriptor* lv2_descriptor(std::uint32_t index)
{
    return index < effects.size() ? &effects[index] : nullptr;
}

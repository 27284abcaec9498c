// SPDX-License-Identifier: GPL-3.0-or-later
//
// More honest effects with known answers: designs that the references do not have. What each does is fixed, and
// stands in its comment; tst_designs.cpp has the figures.
#include "fixed.h"
#include "signal/biquad.h"

#include <random>

namespace {

using namespace specimens;

// --- dynamics ---

/// Hears the mean square (10 ms): 4:1 above -30 dB of it, which a sine reaches at -26.99 dBFS.
struct MeanSquare : Fixed {
    using Fixed::Fixed;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i) {
            const double now = in[0][i] * static_cast<double>(in[0][i]);
            mean = now + poleFor(10, rate_hz) * (mean - now);
            put(in, out, i, -0.75 * std::max(0.0, toDb(std::sqrt(mean)) + 30));
        }
    }
    double mean = 0;
};

/// 3:1 above -24 dBFS, made up by half of what full scale loses: 8 dB. Six tenths of its gain come back with 50
/// ms, the rest with a second.
struct TwoStages : Fixed {
    using Fixed::Fixed;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i) {
            const double target = std::min(0.0, -24 - steadyLevel(in, i)) * 2 / 3;
            const double quick = rider.next(target, poleFor(5, rate_hz), poleFor(50, rate_hz));
            const double slow = second.next(target, poleFor(5, rate_hz), poleFor(1000, rate_hz));
            put(in, out, i, 0.6 * quick + 0.4 * slow + 8);
        }
    }
    Rider second;
};

/// Hears its own output: a loop of three times the overshoot is 4:1 above -30 dBFS, and four times as quick as
/// its 40 ms say; it lets go in 150 ms.
struct Feedback : Fixed {
    using Fixed::Fixed;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i) {
            const double heard_db = steadyLevel(in, i) + rider.gain_db;
            put(in, out, i,
                rider.next(-3 * std::max(0.0, heard_db + 30), poleFor(40, rate_hz), poleFor(150, rate_hz)));
        }
    }
};

/// Lifts what is below -45 dBFS by half of what it lacks, and is 4:1 above -15 dBFS: no single threshold.
struct BothWays : Fixed {
    using Fixed::Fixed;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i) {
            const double now = std::max(-60.0, steadyLevel(in, i));
            put(in, out, i,
                rider.next(std::max(0.0, -45 - now) / 2 - 0.75 * std::max(0.0, now + 15), poleFor(5, rate_hz),
                           poleFor(80, rate_hz)));
        }
    }
};

/// Opens by 90 dB at -40 dBFS, in 1 ms, and closes there, in 100 ms: as the level of its peaks sinks between
/// them by 0.4 dB, it opens and closes within each cycle of a tone that is hardly louder.
struct Chattering : Fixed {
    using Fixed::Fixed;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i) {
            const double target = level(in, i, 10) > -40 ? 0 : -90;
            put(in, out, i, rider.next(target, poleFor(100, rate_hz), poleFor(1, rate_hz)));
        }
    }
};

// --- waveforms ---

/// Even and with a mean: at -12 dBFS a second harmonic of -38.02 dB, a mean of 0.01 and 0.003155.
double squared(double x)
{
    return x + 0.1 * x * x + 0.01;
}
/// Cut at 0.5 above and at -0.8 below.
double uneven(double x)
{
    return std::clamp(x, -0.8, 0.5);
}
/// Nothing within 0.2, and cut at 0.6.
double deadZone(double x)
{
    return std::copysign(std::clamp(std::abs(x) - 0.2, 0.0, 0.6), x);
}

// --- filters ---

template<Shape shape, int hz, int q_thousandths, int gain_db>
struct Filter : Fixed {
    explicit Filter(double rate) : Fixed(rate)
    {
        sides.fill(section(shape, hz, q_thousandths / 1000.0, gain_db, rate));
    }
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i)
            for (std::size_t side = 0; side < 2; ++side)
                out[side][i] = static_cast<float>(sides[side].next(in[side][i]));
    }
    std::array<Section, 2> sides;
};

/// What is above 6 kHz (two crossovers of fourth order that sum up level) goes 4:1 where its mean square (5 ms)
/// behind a cut of 12 dB an octave there is above that of a sine of -30 dBFS, in 1 and 60 ms; the rest is left
/// alone.
struct OneBand : Fixed {
    explicit OneBand(double rate) : Fixed(rate)
    {
        const double q = std::sqrt(0.5);
        high.fill(section(Shape::High, 6000, q, 0, rate));
        low.fill(section(Shape::Low, 6000, q, 0, rate));
    }
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i) {
            const double key = high[4].next(in[0][i]);
            mean = key * key + poleFor(5, rate_hz) * (mean - key * key);
            const double gain_db = rider.next(-0.75 * std::max(0.0, toDb(std::sqrt(2 * mean)) + 30),
                                              poleFor(1, rate_hz), poleFor(60, rate_hz));
            for (std::size_t side = 0; side < 2; ++side)
                out[side][i] = static_cast<float>(
                    low[2 * side + 1].next(low[2 * side].next(in[side][i])) +
                    fromDb(gain_db) * high[2 * side + 1].next(high[2 * side].next(in[side][i])));
        }
    }
    std::array<Section, 5> high;
    std::array<Section, 4> low;
    double mean = 0;
};

// --- time ---

/// Later by what it does not report.
template<int microseconds>
struct Late : Fixed {
    explicit Late(double rate)
        : Fixed(rate), delay(static_cast<std::size_t>(std::lround(rate * microseconds / 1e6)))
    {
        for (auto& line : lines)
            line.reset(delay + 1);
    }
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i)
            for (std::size_t side = 0; side < 2; ++side) {
                lines[side].push(in[side][i]);
                out[side][i] = static_cast<float>(lines[side].tap(delay));
            }
    }
    std::size_t delay;
    std::array<hr::signal::DelayLine, 2> lines;
};

/// The sound, and after `ms` again, fed back by `feedback_db`.
template<int ms, int feedback_db>
struct Echo : Fixed {
    explicit Echo(double rate) : Fixed(rate), delay(static_cast<std::size_t>(std::lround(rate * ms / 1000)))
    {
        for (auto& line : lines)
            line.reset(delay + 1);
    }
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i)
            for (std::size_t side = 0; side < 2; ++side) {
                const double heard = lines[side].tap(delay - 1);
                lines[side].push(in[side][i] + fromDb(feedback_db) * heard);
                out[side][i] = static_cast<float>(in[side][i] + heard);
            }
    }
    std::size_t delay;
    std::array<hr::signal::DelayLine, 2> lines;
};

/// From side to side every 3 ms, each time through two poles at 1.6 kHz (by the bilinear transform): 4 dB less.
struct DullEcho : Fixed {
    explicit DullEcho(double rate) : Fixed(rate), delay(static_cast<std::size_t>(std::lround(rate * 0.003)))
    {
        const double k = std::tan(std::numbers::pi * 1600 / rate);
        pole = {.b0 = k / (1 + k), .b1 = k / (1 + k), .a1 = (k - 1) / (k + 1)};
        for (auto& line : lines)
            line.reset(delay + 1);
    }
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i) {
            const double left = dull[0].next(pole, duller[0].next(pole, lines[0].tap(delay - 1)));
            const double right = dull[1].next(pole, duller[1].next(pole, lines[1].tap(delay - 1)));
            lines[0].push((in[0][i] + in[1][i]) / 2 + fromDb(-4) * right);
            lines[1].push(fromDb(-4) * left);
            out[0][i] = static_cast<float>(in[0][i] + left);
            out[1][i] = static_cast<float>(in[1][i] + right);
        }
    }
    std::size_t delay;
    hr::signal::Biquad pole;
    std::array<hr::signal::BiquadState, 2> dull, duller;
    std::array<hr::signal::DelayLine, 2> lines;
};

/// Sixteen lines through a Hadamard matrix, each losing what 60 dB in 12 s ask of its length; 40 ms late.
struct LongRoom : Fixed {
    static constexpr std::size_t count = 16;
    explicit LongRoom(double rate) : Fixed(rate), predelay(static_cast<std::size_t>(0.04 * rate))
    {
        before.reset(predelay + 1);
        for (std::size_t i = 0; i < count; ++i) {
            lengths[i] = static_cast<std::size_t>(rate * 0.021 * std::pow(1.083, static_cast<double>(i))) | 1;
            lines[i].reset(lengths[i] + 16);
        }
    }
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i) {
            before.push((in[0][i] + in[1][i]) / 2);
            std::array<double, count> heard{};
            for (std::size_t line = 0; line < count; ++line)
                heard[line] = lines[line].tap(lengths[line] - 1) *
                              fromDb(-60 * static_cast<double>(lengths[line]) / (12 * rate_hz));
            out[0][i] = out[1][i] = 0;
            for (std::size_t line = 0; line < count; ++line)
                out[line % 2][i] += static_cast<float>(heard[line]);
            for (std::size_t step = 1; step < count; step *= 2)
                for (std::size_t line = 0; line < count; ++line)
                    if (!(line & step)) {
                        const double a = heard[line];
                        const double b = heard[line | step];
                        heard[line] = (a + b) / std::numbers::sqrt2;
                        heard[line | step] = (a - b) / std::numbers::sqrt2;
                    }
            for (std::size_t line = 0; line < count; ++line)
                lines[line].push(heard[line] + before.tap(predelay) / 4);
        }
    }
    std::size_t predelay;
    hr::signal::DelayLine before;
    std::array<std::size_t, count> lengths{};
    std::array<hr::signal::DelayLine, count> lines;
};

// --- movement ---

/// Loud and soft by 6 dB at 4 Hz, left when right is not; sharp and flat by 15 cents at 1.5 Hz.
struct Rotor : Fixed {
    explicit Rotor(double rate) : Fixed(rate)
    {
        for (auto& line : lines)
            line.reset(static_cast<std::size_t>(rate / 50));
    }
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        // The delay whose slope is 15 cents at its steepest.
        const double deep = (std::exp2(15.0 / 1200) - 1) / (2 * std::numbers::pi * 1.5) * rate_hz;
        for (std::uint32_t i = 0; i < frames; ++i) {
            const double swing = 3 * loud.next(4, rate_hz);
            const double delay = deep * (1 + pitch.next(1.5, rate_hz)) + 2;
            for (std::size_t side = 0; side < 2; ++side) {
                lines[side].push(in[side][i]);
                out[side][i] =
                    static_cast<float>(between(lines[side], delay) * fromDb(side == 0 ? swing : -swing));
            }
        }
    }
    Wheel loud, pitch;
    std::array<hr::signal::DelayLine, 2> lines;
};

/// The sound and what is 12 to 18 ms late, 0.8 times a second; right a quarter of that behind left. 2 kHz is
/// passed as evenly on the way up as on the way down.
struct Chorus : Fixed {
    explicit Chorus(double rate) : Fixed(rate)
    {
        for (auto& line : lines)
            line.reset(static_cast<std::size_t>(rate / 50));
    }
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i) {
            const std::array swings{left.next(0.8, rate_hz), right.next(0.8, rate_hz)};
            for (std::size_t side = 0; side < 2; ++side) {
                lines[side].push(in[side][i]);
                const double late = between(lines[side], (15 + 3 * swings[side]) / 1000 * rate_hz);
                out[side][i] = static_cast<float>((static_cast<double>(in[side][i]) + late) / 2);
            }
        }
    }
    Wheel left, right{0.75};
    std::array<hr::signal::DelayLine, 2> lines;
};

/// Turned over by 300 Hz: of a tone only its two neighbours are left.
struct Multiplied : Fixed {
    using Fixed::Fixed;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i) {
            const double turned = carrier.next(300, rate_hz);
            for (std::size_t side = 0; side < 2; ++side)
                out[side][i] = static_cast<float>(turned * static_cast<double>(in[side][i]));
        }
    }
    Wheel carrier;
};

/// Two notches that travel through two octaves once in 33 seconds.
using SlowNotches = Phaser<4, 33, 400, 2>;

/// Twelve, through four octaves: one or the other is beyond the band for much of the time.
using WideNotches = Phaser<24, 2, 500, 4>;

/// Two that pass 1 kHz at even distances, up and down again, a second apart.
using EvenNotches = Phaser<4, 1, 500, 4>;

// --- manners ---

/// Says nothing until it has heard sound for so long, and sleeps after so much silence; then 3 dB more.
template<int WakesMs, int SleepsMs>
struct Sleeping : Fixed {
    using Fixed::Fixed;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i) {
            const bool sound = peakOf(in, i) > 1e-5;
            silent = sound ? 0 : silent + 1;
            awake = silent > SleepsMs / 1000.0 * rate_hz ? 0 : awake + (sound ? 1 : 0);
            put(in, out, i, awake > WakesMs / 1000.0 * rate_hz ? 3 : -200);
        }
    }
    double silent = 0, awake = 0;
};

using Sleeper = Sleeping<20, 500>;
using HeavySleeper = Sleeping<600, 300>;

/// Mains: 50 Hz at -70 dBFS, 150 Hz at -80.
struct Mains : Fixed {
    using Fixed::Fixed;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i) {
            const double hum = fromDb(-70) * base.next(50, rate_hz) + fromDb(-80) * third.next(150, rate_hz) +
                               1e-7 * hiss.next();
            for (std::size_t side = 0; side < 2; ++side)
                out[side][i] = static_cast<float>(in[side][i] + hum);
        }
    }
    Wheel base, third;
    Hiss hiss;
};

/// The right is louder by 1.5 dB and hears the left at -30 dB, which makes 1.7276 of what is in the middle.
struct Leaky : Fixed {
    using Fixed::Fixed;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i) {
            out[0][i] = in[0][i];
            out[1][i] = static_cast<float>(fromDb(1.5) * in[1][i] + fromDb(-30) * in[0][i]);
        }
    }
};

/// Keeps each sample for three, in ten bits.
struct Crushed : Fixed {
    using Fixed::Fixed;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i, ++count)
            for (std::size_t side = 0; side < 2; ++side) {
                if (count % 3 == 0)
                    kept[side] = std::round(in[side][i] * 512) / 512;
                out[side][i] = static_cast<float>(kept[side]);
            }
    }
    std::uint64_t count = 0;
    std::array<double, 2> kept{};
};

#define DESIGN(Class, name) descriptor<Class>("urn:honest-rack:tests:" name)
using LowCut = Filter<Shape::High, 20, 707, 0>;
using Top = Filter<Shape::Low, 19000, 707, 0>;
using Ringing = Filter<Shape::Bell, 2500, 12000, 30>;
using Narrow = Filter<Shape::Bell, 40, 500000, 9>; // rings for a minute
using PhaseOnly = Filter<Shape::AllPass, 700, 2000, 0>;
using ShortEcho = Echo<1, -4>;
using LongEcho = Echo<4000, -9>;
using LateUnsaid = Late<750000>;
constexpr std::array effects{DESIGN(MeanSquare, "mean-square"),
                             DESIGN(TwoStages, "two-stages"),
                             DESIGN(Feedback, "feedback"),
                             DESIGN(BothWays, "both-ways"),
                             DESIGN(Waveform<squared>, "squared"),
                             DESIGN(Waveform<uneven>, "uneven"),
                             DESIGN(Waveform<deadZone>, "dead-zone"),
                             DESIGN(Chattering, "chattering"),
                             DESIGN(OneBand, "one-band"),
                             DESIGN(LowCut, "low-cut"),
                             DESIGN(Top, "top"),
                             DESIGN(Ringing, "ringing"),
                             DESIGN(Narrow, "narrow"),
                             DESIGN(PhaseOnly, "phase-only"),
                             DESIGN(LateUnsaid, "late-unsaid"),
                             DESIGN(ShortEcho, "short-echo"),
                             DESIGN(LongEcho, "long-echo"),
                             DESIGN(DullEcho, "dull-echo"),
                             DESIGN(LongRoom, "long-room"),
                             DESIGN(Rotor, "rotor"),
                             DESIGN(Chorus, "chorus"),
                             DESIGN(Multiplied, "multiplied"),
                             DESIGN(SlowNotches, "slow-notches"),
                             DESIGN(WideNotches, "wide-notches"),
                             DESIGN(EvenNotches, "even-notches"),
                             DESIGN(Sleeper, "sleeper"),
                             DESIGN(HeavySleeper, "heavy-sleeper"),
                             DESIGN(Mains, "mains"),
                             DESIGN(Leaky, "leaky"),
                             DESIGN(Crushed, "crushed")};

} // namespace

LV2_SYMBOL_EXPORT const LV2_Descriptor* lv2_descriptor(std::uint32_t index)
{
    return index < effects.size() ? &effects[index] : nullptr;
}

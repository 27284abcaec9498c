// SPDX-License-Identifier: GPL-3.0-or-later
//
// What bends the waveform a little, alone or behind a filter, what rides the level as fast as a cycle, and what
// does not follow the level at all; tst_shapes.cpp has what each is.
#include "fixed.h"

namespace {

using namespace specimens;

// --- waveforms, and what stands behind them ---

/// 0.43 dB less at full scale.
double slightly(double x)
{
    return x - x * x * x / 15;
}
/// 0.17 dB less.
double hardly(double x)
{
    return x - x * x * x / 38;
}
/// 1.2 dB less, and a mean.
double lopsided(double x)
{
    return x + 0.05 * x * x - 0.17 * x * x * x;
}

template<double (*curve)(double), Section (*filter)(double), std::size_t late_frames = 0>
struct Behind : Fixed {
    explicit Behind(double rate) : Fixed(rate)
    {
        sides.fill(filter(rate));
        for (auto& line : late)
            line.assign(late_frames + 1, 0);
    }
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i, ++at)
            for (std::size_t side = 0; side < 2; ++side) {
                late[side][at % late[side].size()] = sides[side].next(curve(in[side][i]));
                out[side][i] = static_cast<float>(late[side][(at + 1) % late[side].size()]);
            }
    }
    std::array<Section, 2> sides;
    std::array<std::vector<double>, 2> late;
    std::size_t at = 0;
};
Section noMean(double rate)
{
    return section(Shape::High, 8, 0.7071, 0, rate);
}
Section dull(double rate)
{
    return section(Shape::Low, 500, 0.7071, 0, rate);
}
Section ringing(double rate)
{
    return section(Shape::Bell, 1000, 20, 12, rate);
}

// --- the level, as fast as a cycle ---

/// 4:1 above -20 dBFS, at once; it lets go in so many ms.
template<int lets_go_ms>
struct AtOnce : Fixed {
    using Fixed::Fixed;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i)
            put(in, out, i,
                rider.next(std::min(0.0, -20 - steadyLevel(in, i)) * 0.75, 0, poleFor(lets_go_ms, rate_hz)));
    }
};

// --- what does not follow the level ---

/// 440 Hz at -10 dBFS, whatever goes in.
struct Horn : Fixed {
    using Fixed::Fixed;
    void process(const Stereo&, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i)
            out[0][i] = out[1][i] = static_cast<float>(fromDb(-10) * wheel.next(440, rate_hz));
    }
    Wheel wheel;
};

/// The same, but only while something louder than -35 dBFS goes in.
struct Trigger : Fixed {
    using Fixed::Fixed;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i) {
            const double horn = wheel.next(440, rate_hz);
            out[0][i] = out[1][i] = static_cast<float>(level(in, i, 50) > -35 ? fromDb(-10) * horn : 0);
        }
    }
    Wheel wheel;
};

/// -104 dBFS of a full-scale sine, and less of quieter ones than less.
struct Murmur : Fixed {
    using Fixed::Fixed;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i)
            put(in, out, i, -104 + 0.5 * std::max(-60.0, steadyLevel(in, i)));
    }
};

/// Turned over by 1 kHz, beside half of the sound: of a tone of 1 kHz it makes what a bent waveform would.
struct Turned : Fixed {
    using Fixed::Fixed;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i) {
            const double turned = 0.5 + wheel.next(1000, rate_hz);
            for (std::size_t side = 0; side < 2; ++side)
                out[side][i] = static_cast<float>(turned * static_cast<double>(in[side][i]));
        }
    }
    Wheel wheel;
};

/// Leaves out 150 samples every 10007.
struct Gappy : Fixed {
    using Fixed::Fixed;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i, ++count)
            put(in, out, i, count % 10007 < 150 ? -200 : 0);
    }
    std::uint64_t count = 0;
};

#define SHAPE(Class, name) descriptor<Class>("urn:honest-rack:tests:" name)
using SlightlyNoMean = Behind<lopsided, noMean>;
using SlightlyDull = Behind<slightly, dull>;
using SlightlyRinging = Behind<slightly, ringing>;
using SlightlyLate = Behind<lopsided, noMean, 700>;
constexpr std::array effects{SHAPE(Waveform<slightly>, "slightly"),
                             SHAPE(Waveform<hardly>, "hardly"),
                             SHAPE(Waveform<lopsided>, "lopsided"),
                             SHAPE(SlightlyNoMean, "lopsided-no-mean"),
                             SHAPE(SlightlyDull, "slightly-dull"),
                             SHAPE(SlightlyRinging, "slightly-ringing"),
                             SHAPE(SlightlyLate, "lopsided-late"),
                             SHAPE(AtOnce<50>, "at-once"),
                             SHAPE(AtOnce<5>, "at-once-quick"),
                             SHAPE(Horn, "horn"),
                             SHAPE(Trigger, "trigger"),
                             SHAPE(Murmur, "murmur"),
                             SHAPE(Turned, "turned"),
                             SHAPE(Gappy, "gappy")};

} // namespace

LV2_SYMBOL_EXPORT const LV2_Descriptor* lv2_descriptor(std::uint32_t index)
{
    return index < effects.size() ? &effects[index] : nullptr;
}

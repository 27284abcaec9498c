// SPDX-License-Identifier: GPL-3.0-or-later
//
// Each breaks one promise, and keeps the others.
#include "fixed.h"

#include <random>

namespace {

using namespace specimens;

/// Another hiss at -70 dBFS at each start, where there is sound.
struct NeverTheSame : Fixed {
    using Fixed::Fixed;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i)
            for (std::size_t side = 0; side < 2; ++side)
                out[side][i] = in[side][i] + (in[side][i] == 0 ? 0.0F : 3e-4F * hiss(random));
    }
    std::minstd_rand random{std::random_device{}()};
    std::uniform_real_distribution<float> hiss{-1, 1};
};

/// The beginning of each block is a little louder.
struct ByBlocks : Fixed {
    using Fixed::Fixed;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i)
            put(in, out, i, i < 8 ? 0.01 : 0);
    }
};

/// A low pass whose coefficient is for 48 kHz, whatever the rate.
struct OneRate : Fixed {
    using Fixed::Fixed;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        const double pole = std::exp(-2 * std::numbers::pi * 1000 / 48000);
        for (std::uint32_t i = 0; i < frames; ++i)
            for (std::size_t side = 0; side < 2; ++side) {
                low[side] = in[side][i] + pole * (low[side] - in[side][i]);
                if (!std::isfinite(low[side]) || std::abs(low[side]) < 1e-12)
                    low[side] = 0;
                out[side][i] = static_cast<float>(low[side]);
            }
    }
    std::array<double, 2> low{};
};

/// What is not a number once stays in its memory.
struct Swallows : Fixed {
    using Fixed::Fixed;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        for (std::uint32_t i = 0; i < frames; ++i)
            for (std::size_t side = 0; side < 2; ++side) {
                held[side] = 0.5F * in[side][i] + 0 * held[side];
                out[side][i] = in[side][i] - held[side] + held[side];
            }
    }
    std::array<float, 2> held{};
};

/// Keeps eight kilobytes of each block.
struct Collects : Fixed {
    using Fixed::Fixed;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const None&)
    {
        kept.emplace_back(2048, in[0][0]);
        for (std::uint32_t i = 0; i < frames; ++i)
            put(in, out, i, 0);
    }
    std::vector<std::vector<float>> kept;
};

/// 6 dB down while its switch is on; off, its input, 64 samples late as it is in either case, and as much
/// of an offset as its second control says.
struct OwnSwitch : Fixed {
    static constexpr int controls = 2;
    explicit OwnSwitch(double rate) : Fixed(rate)
    {
        for (auto& line : lines)
            line.reset(65);
    }
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames,
                 const std::array<float, 2>& on_and_offset)
    {
        for (std::uint32_t i = 0; i < frames; ++i)
            for (std::size_t side = 0; side < 2; ++side) {
                lines[side].push(in[side][i]);
                const auto late = static_cast<float>(lines[side].tap(64));
                out[side][i] = on_and_offset[0] > 0.5F ? late / 2 : late * (1 + on_and_offset[1]);
            }
    }
    std::array<hr::signal::DelayLine, 2> lines;
};

#define PROMISE(Class, name) descriptor<Class>("urn:honest-rack:tests:" name)
constexpr std::array effects{
    PROMISE(NeverTheSame, "never-the-same"), PROMISE(ByBlocks, "by-blocks"), PROMISE(OneRate, "one-rate"),
    PROMISE(Swallows, "swallows"),           PROMISE(Collects, "collects"),  PROMISE(OwnSwitch, "own-switch")};

} // namespace

LV2_SYMBOL_EXPORT const LV2_Descriptor* lv2_descriptor(std::uint32_t index)
{
    return index < effects.size() ? &effects[index] : nullptr;
}

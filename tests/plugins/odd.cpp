// SPDX-License-Identifier: GPL-3.0-or-later
//
// Plug-ins that do nothing wrong, but what hosts are seldom ready for.
#include "specimen.h"

#include <algorithm>
#include <array>
#include <random>
#include <vector>

namespace {

using namespace specimens;

/// Says only while it runs how late it is, as most do.
struct LateLatency {
    static constexpr int controls = 3; // samples, half more, and the latency, which lies behind them
    explicit LateLatency(double) : m_lines{std::vector<float>(1 << 17), std::vector<float>(1 << 17)} {}

    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames,
                 const std::array<float*, 3>& ports)
    {
        const auto delay = static_cast<std::size_t>(*ports[0]);
        for (std::size_t i = 0; i < frames; ++i, ++m_at)
            for (std::size_t side = 0; side < 2; ++side) {
                auto& line = m_lines[side];
                line[m_at % line.size()] = in[side][i];
                out[side][i] = line[(m_at + line.size() - delay) % line.size()];
            }
        *ports[2] = *ports[0] + 0.5F * *ports[1];
    }

private:
    std::array<std::vector<float>, 2> m_lines;
    std::size_t m_at = 1 << 17;
};

/// The main input on the left, the key on the right.
struct KeyInItsName {
    static constexpr int controls = 2;
    explicit KeyInItsName(double) {}
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const std::array<float*, 2>&)
    {
        for (std::size_t side = 0; side < 2; ++side)
            std::copy_n(in[side], frames, out[side]);
    }
};

/// Noise, whatever goes in.
struct IgnoresItsInput {
    static constexpr int controls = 2;
    explicit IgnoresItsInput(double) {}
    std::minstd_rand random;
    void process(const Stereo&, const StereoOut& out, std::uint32_t frames, const std::array<float*, 2>&)
    {
        std::uniform_real_distribution<float> noise(-0.1F, 0.1F);
        for (float* side : out)
            for (std::uint32_t i = 0; i < frames; ++i)
                side[i] = noise(random);
    }
};

/// Adds an offset, and amplifies.
struct Harms {
    static constexpr int controls = 2;
    explicit Harms(double) {}
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames,
                 const std::array<float*, 2>& ports)
    {
        for (std::size_t side = 0; side < 2; ++side)
            for (std::uint32_t i = 0; i < frames; ++i)
                out[side][i] = (1 + *ports[0]) * in[side][i] + *ports[1];
    }
};

/// As specimens::run, with the ports themselves, since some are outputs.
template<class T>
void runWithPorts(LV2_Handle handle, std::uint32_t frames)
{
    auto& self = *static_cast<Instance<T>*>(handle);
    self.effect.process(self.in, self.out, frames, self.ports);
}

template<class T>
constexpr LV2_Descriptor odd(const char* uri)
{
    return {uri, make<T>, connect<T>, nullptr, runWithPorts<T>, nullptr, destroy<T>, nullptr};
}

constexpr std::array effects{odd<LateLatency>("urn:honest-rack:tests:late-latency"),
                             odd<KeyInItsName>("urn:honest-rack:tests:key-in-its-name"),
                             odd<IgnoresItsInput>("urn:honest-rack:tests:ignores-its-input"),
                             odd<Harms>("urn:honest-rack:tests:harms")};

} // namespace

LV2_SYMBOL_EXPORT const LV2_Descriptor* lv2_descriptor(std::uint32_t index)
{
    return index < effects.size() ? &effects[index] : nullptr;
}

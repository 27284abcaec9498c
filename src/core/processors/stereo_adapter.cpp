// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/stereo_adapter.h"

#include <algorithm>
#include <cassert>

namespace hr::processors {

StereoAdapter::StereoAdapter(std::unique_ptr<Processor> first, std::unique_ptr<Processor> second)
{
    m_processors.push_back(std::move(first));
    m_info = m_processors.front()->info();
    if (needsTwo(m_info)) {
        assert(second);
        m_processors.push_back(std::move(second));
    }
    m_info.audio_in = m_info.audio_out = 2;
}

Result<void> StereoAdapter::prepare(const PlayConditions& conditions)
{
    m_silence.assign(conditions.block_frames, 0.0F);
    m_unheard = m_middle = m_silence;
    for (const auto& processor : m_processors)
        if (auto ready = processor->prepare(conditions); !ready)
            return ready;
    return {};
}

void StereoAdapter::setState(const std::string& state)
{
    for (const auto& processor : m_processors)
        processor->setState(state);
}

void StereoAdapter::setParameter(std::size_t index, double value) noexcept
{
    for (const auto& processor : m_processors)
        processor->setParameter(index, value);
}

void StereoAdapter::setTempo(double bpm) noexcept
{
    for (const auto& processor : m_processors)
        processor->setTempo(bpm);
}

void StereoAdapter::process(const float* const* in, float* const* out, std::size_t frames) noexcept
{
    std::array<const float*, most_channels> from{};
    std::array<float*, most_channels> to{};
    const auto& inner = m_processors.front()->info();
    for (std::size_t side = 0; side < m_processors.size() && m_processors.size() == 2; ++side) {
        from[0] = in[side];
        for (std::size_t k = 0; k < inner.key_in; ++k)
            from[1 + k] = in[2 + std::min(k + side, inner.key_in - 1)];
        to[0] = out[side];
        m_processors[side]->process(from.data(), to.data(), frames);
    }
    if (m_processors.size() == 2)
        return;
    for (std::size_t c = 0; c < inner.audio_in; ++c)
        from[c] = c < 2 ? in[c] : m_silence.data();
    if (inner.audio_in == 1) {
        for (std::size_t i = 0; i < frames; ++i)
            m_middle[i] = 0.5F * (in[0][i] + in[1][i]);
        from[0] = m_middle.data();
    }
    for (std::size_t k = 0; k < inner.key_in; ++k)
        from[inner.audio_in + k] = in[2 + k];
    for (std::size_t c = 0; c < inner.audio_out; ++c)
        to[c] = c < 2 ? out[c] : m_unheard.data();
    m_processors.front()->process(from.data(), to.data(), frames);
    if (inner.audio_out == 1)
        std::copy_n(out[0], frames, out[1]);
}

} // namespace hr::processors

// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/inside/block_adapter.h"

#include "hosting/wire.h"

#include <algorithm>
#include <bit>

namespace hr::hosting::inside {

Result<void> BlockAdapter::prepare(const processors::PlayConditions& conditions)
{
    m_block_frames = m_power_of_two ? std::bit_floor(conditions.block_frames) : conditions.block_frames;
    m_at = 0;
    m_in.assign(info().audio_in + info().key_in, std::vector<float>(m_block_frames));
    m_out.assign(info().audio_out, std::vector<float>(m_block_frames));
    processors::PlayConditions inside = conditions;
    inside.block_frames = m_block_frames;
    return m_inner->prepare(inside);
}

void BlockAdapter::process(const float* const* in, float* const* out, std::size_t frames) noexcept
{
    for (std::size_t first = 0; first < frames;) {
        const std::size_t count = std::min(frames - first, m_block_frames - m_at);
        const auto at = static_cast<std::ptrdiff_t>(m_at);
        for (std::size_t c = 0; c < m_in.size(); ++c)
            std::copy_n(in[c] + first, count, m_in[c].begin() + at);
        for (std::size_t c = 0; c < m_out.size(); ++c)
            std::copy_n(m_out[c].begin() + at, count, out[c] + first);
        m_at += count;
        first += count;
        if (m_at == m_block_frames)
            runBlock();
    }
}

void BlockAdapter::runBlock() noexcept
{
    std::array<const float*, most_channels> in{};
    std::array<float*, most_channels> out{};
    for (std::size_t c = 0; c < m_in.size(); ++c)
        in[c] = m_in[c].data();
    for (std::size_t c = 0; c < m_out.size(); ++c)
        out[c] = m_out[c].data();
    m_inner->process(in.data(), out.data(), m_block_frames);
    m_at = 0;
}

} // namespace hr::hosting::inside

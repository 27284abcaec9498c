// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/local_instance.h"

#include <algorithm>

namespace hr::hosting {

FaultOr<void> LocalInstance::start(const processors::PlayConditions& conditions, std::span<const double> values)
{
    if (m_cancel.stop_requested())
        return fault(Phase::Start, Cause::Cancelled, {});
    m_block_frames = std::clamp<std::size_t>(conditions.block_frames, 1, stretch_frames);
    for (std::size_t i = 0; i < values.size(); ++i)
        m_processor->setParameter(i, values[i]);
    if (auto ready = m_processor->prepare({conditions.sample_rate_hz, m_block_frames}); !ready)
        return fault(Phase::Start, Cause::UnsupportedFeature, ready.error().text);
    return {};
}

FaultOr<void> LocalInstance::process(std::span<const float* const> in, std::span<float* const> out,
                                     std::size_t frames)
{
    static constexpr std::array<float, stretch_frames> silence{};
    std::array<const float*, most_channels> from{};
    std::array<float*, most_channels> to{};
    if (m_cancel.stop_requested())
        return fault(Phase::Run, Cause::Cancelled, {});
    for (std::size_t first = 0; first < frames; first += m_block_frames) {
        const std::size_t count = std::min(m_block_frames, frames - first);
        for (std::size_t c = 0; c < in.size(); ++c)
            from[c] = in[c] ? in[c] + first : silence.data();
        for (std::size_t c = 0; c < out.size(); ++c)
            to[c] = out[c] + first;
        const auto begun = std::chrono::steady_clock::now();
        m_processor->process(from.data(), to.data(), count);
        const std::uint32_t took_ns = nanosecondsSince(begun);
        noteBlockTimes({&took_ns, 1});
    }
    return {};
}

} // namespace hr::hosting

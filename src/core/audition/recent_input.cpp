// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/recent_input.h"

#include <algorithm>
#include <cmath>

namespace hr::audition {

namespace {

constexpr double spare_s = 5; // a copy takes a fraction of a second

} // namespace

RecentInput::RecentInput(double rate_hz, double seconds)
    : m_rate_hz(rate_hz), m_kept_frames(static_cast<std::size_t>(std::llround(seconds * rate_hz))),
      m_samples(2 * (m_kept_frames + static_cast<std::size_t>(std::llround(spare_s * rate_hz))))
{
}

void RecentInput::put(const float* interleaved, std::size_t frames) noexcept
{
    const std::size_t at = m_arrived.load(std::memory_order_relaxed);
    std::size_t place = 2 * at % m_samples.size();
    float peak = m_peak.load(std::memory_order_relaxed);
    for (std::size_t i = 0; i < 2 * frames; ++i) {
        m_samples[place].store(interleaved[i], std::memory_order_relaxed);
        place = place + 1 == m_samples.size() ? 0 : place + 1;
        peak = std::max(peak, std::abs(interleaved[i]));
    }
    m_peak.store(peak, std::memory_order_relaxed);
    m_arrived.store(at + frames, std::memory_order_release);
}

signal::AudioBuffer RecentInput::since(std::size_t first) const
{
    const std::size_t end = arrived();
    const std::size_t from = std::max(first, end - std::min(end, m_kept_frames));
    const std::size_t frames = end - std::min(end, from);
    signal::AudioBuffer sound(2, frames, m_rate_hz);
    for (std::size_t i = 0; i < frames; ++i)
        for (std::size_t side = 0; side < 2; ++side)
            sound.channel(side)[i] =
                m_samples[(2 * (from + i) + side) % m_samples.size()].load(std::memory_order_relaxed);
    return sound;
}

void RecentInput::read(std::size_t first, float* left, float* right, std::size_t count) const noexcept
{
    const std::size_t end = arrived();
    const std::size_t oldest = end - std::min(end, m_kept_frames);
    for (std::size_t i = 0; i < count; ++i) {
        const bool is_there = first + i >= oldest && first + i < end;
        const std::size_t place = 2 * ((first + i) % (m_samples.size() / 2));
        left[i] = is_there ? m_samples[place].load(std::memory_order_relaxed) : 0.0F;
        right[i] = is_there ? m_samples[place + 1].load(std::memory_order_relaxed) : 0.0F;
    }
}

signal::AudioBuffer RecentInput::last(double seconds) const
{
    const std::size_t end = arrived();
    const auto frames = static_cast<std::size_t>(std::llround(std::max(0.0, seconds) * m_rate_hz));
    return since(end - std::min(end, frames));
}

} // namespace hr::audition

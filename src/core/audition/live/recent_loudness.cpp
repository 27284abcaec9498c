// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/live/recent_loudness.h"

#include "signal/levels.h"

#include <algorithm>
#include <cmath>

namespace hr::audition {

namespace {

constexpr double step_s = 0.1;
constexpr double block_s = 0.4;
constexpr double relative_gate_lu = -10;
constexpr std::size_t most_blocks = 97; // of 0.4 s every 0.1 s, in window_s
static_assert(RecentLoudness::window_s == 10);

} // namespace

RecentLoudness::RecentLoudness(double rate_hz)
    : m_meter(rate_hz, signal::Figures::Momentary),
      m_step_frames(static_cast<std::size_t>(std::llround(step_s * rate_hz))),
      m_until_step(static_cast<std::size_t>(std::llround(block_s * rate_hz)))
{
}

void RecentLoudness::add(const float* left, const float* right, std::size_t frames)
{
    for (std::size_t done = 0; done < frames;) {
        const std::size_t count = std::min(frames - done, m_until_step);
        (void)m_meter.add(left + done, right + done, count);
        done += count;
        m_until_step -= count;
        if (m_until_step > 0)
            continue;
        m_until_step = m_step_frames;
        m_blocks_lufs.push_back(m_meter.meter().momentaryLufs());
        if (m_blocks_lufs.size() > most_blocks)
            m_blocks_lufs.pop_front();
    }
}

std::optional<double> RecentLoudness::read() const
{
    const auto mean_above = [this](double gate_lufs) -> std::optional<double> {
        double power = 0;
        std::size_t blocks = 0;
        for (const auto& block_lufs : m_blocks_lufs)
            if (block_lufs && *block_lufs > gate_lufs) {
                power += signal::dbToPower(*block_lufs);
                ++blocks;
            }
        return blocks == 0 ? std::nullopt
                           : std::optional(signal::powerToDb(power / static_cast<double>(blocks)));
    };
    const auto ungated_lufs = mean_above(-1000);
    return ungated_lufs ? mean_above(*ungated_lufs + relative_gate_lu) : std::nullopt;
}

} // namespace hr::audition

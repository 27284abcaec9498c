// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/live/gain_history.h"

#include "signal/levels.h"

#include <algorithm>
#include <cmath>

namespace hr::audition {

namespace {

constexpr std::size_t most_waiting = 4096; // 40 s: one side was never read

} // namespace

GainHistory::GainHistory(double sample_rate_hz, double seconds)
    : m_step_frames(static_cast<std::size_t>(std::lround(sample_rate_hz * step_s))),
      m_most(static_cast<std::size_t>(std::lround(seconds / step_s)))
{
}

void GainHistory::clear()
{
    m_in = m_out = {};
    m_steps.clear();
}

void GainHistory::add(Side& side, const TapBlock& block)
{
    for (std::size_t i = 0; i < block.frames; ++i) {
        const std::size_t index = (block.source_frame + i) / m_step_frames;
        if (index != side.growing.index) {
            // One that was begun in the middle, or broken off, says nothing of the whole.
            if (side.growing.samples == m_step_frames)
                side.whole.push_back(side.growing);
            side.growing = {index, 0, 0};
        }
        const auto left = static_cast<double>(block.left[i]);
        const auto right = static_cast<double>(block.right[i]);
        side.growing.square_sum += (left * left + right * right) / 2;
        ++side.growing.samples;
    }
    while (side.whole.size() > most_waiting)
        side.whole.pop_front();
    pair();
}

/// The same stretches of the source, in the order of the output. What only one side has is passed over.
void GainHistory::pair()
{
    while (!m_out.whole.empty()) {
        const Slot out = m_out.whole.front();
        const auto in = std::ranges::find(m_in.whole, out.index, &Slot::index);
        if (in == m_in.whole.end() && m_in.whole.empty())
            return; // it may come yet
        m_out.whole.pop_front();
        if (in == m_in.whole.end())
            continue;
        const auto frames = static_cast<double>(m_step_frames);
        Step step{out.index * m_step_frames, signal::powerToDb(2 * in->square_sum / frames),
                  signal::powerToDb(2 * out.square_sum / frames), std::nullopt};
        if (step.in_dbfs > quiet_dbfs && std::isfinite(step.out_dbfs))
            step.gain_db = step.out_dbfs - step.in_dbfs;
        m_in.whole.erase(m_in.whole.begin(), in + 1);
        m_steps.push_back(step);
        if (m_steps.size() > m_most)
            m_steps.pop_front();
    }
}

} // namespace hr::audition

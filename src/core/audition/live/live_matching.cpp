// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/live/live_matching.h"

namespace hr::audition {

LiveMatching::One& LiveMatching::oneOf(const TapBlock& block)
{
    auto found = m_ones.try_emplace(block.contender, m_rate_hz, block.generation).first;
    if (found->second.generation != block.generation) {
        m_ones.erase(found);
        found = m_ones.try_emplace(block.contender, m_rate_hz, block.generation).first;
    }
    return found->second;
}

void LiveMatching::addInput(const TapBlock& block)
{
    oneOf(block).in.add(block.left.data(), block.right.data(), block.frames);
}

void LiveMatching::addOutput(const TapBlock& block)
{
    oneOf(block).out.add(block.left.data(), block.right.data(), block.frames);
}

/// Each is compared with what it was given itself: one that came later has heard less.
void LiveMatching::update()
{
    for (auto& [id, one] : m_ones) {
        const auto in_lufs = one.in.read();
        if (!in_lufs || *in_lufs < quietest_input_lufs)
            continue;
        const auto out_lufs = one.out.read();
        one.measured = true;
        one.change_lu = out_lufs ? std::optional(*out_lufs - *in_lufs) : std::nullopt;
        m_input_lufs = in_lufs;
    }
}

std::optional<double> LiveMatching::loudnessOf(ContenderId id, const LoopLoudness& untreated,
                                               const LoopLoudness& contender) const
{
    if (!m_input_lufs)
        return std::nullopt;
    if (const auto found = m_ones.find(id); found != m_ones.end() && found->second.measured)
        return found->second.change_lu ? std::optional(*m_input_lufs + *found->second.change_lu) : std::nullopt;
    const auto& before_lufs = untreated.levels.loudness_lufs;
    const auto& after_lufs = contender.levels.loudness_lufs;
    return before_lufs && after_lufs ? *m_input_lufs + *after_lufs - *before_lufs : *m_input_lufs;
}

bool LiveMatching::isMeasured(ContenderId id) const
{
    const auto found = m_ones.find(id);
    return found != m_ones.end() && found->second.measured;
}

} // namespace hr::audition

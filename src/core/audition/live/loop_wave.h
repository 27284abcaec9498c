// SPDX-License-Identifier: GPL-3.0-or-later
//
// What goes in and what comes out, laid over each other along the section that repeats: the highest of each
// column, as it was the last time it passed by.
#pragma once

#include "audition/source.h"
#include "audition/tap.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace hr::audition {

class LoopWave {
public:
    static constexpr std::size_t columns = 512;

    explicit LoopWave(const Section& loop) : m_loop(loop) {}

    void addInput(const TapBlock& block) { add(m_in, block); }
    void addOutput(const TapBlock& block) { add(m_out, block); }

    /// Peaks, linear; 0 where nothing has passed yet. `columns` of them.
    const std::vector<float>& in() const { return m_in.peaks; }
    const std::vector<float>& out() const { return m_out.peaks; }

private:
    struct Side {
        std::vector<float> peaks = std::vector<float>(columns, 0.0F);
        std::size_t column = columns; // the one it is in
    };
    void add(Side& side, const TapBlock& block) const
    {
        for (std::size_t i = 0; i < block.frames; ++i) {
            const std::size_t frame = block.source_frame + i;
            if (frame < m_loop.first)
                continue;
            const std::size_t column = (frame - m_loop.first) % m_loop.frames * columns / m_loop.frames;
            if (column != side.column)
                side.peaks[column] = 0; // what it was on the pass before
            side.column = column;
            const float here = std::max(std::abs(block.left[i]), std::abs(block.right[i]));
            side.peaks[column] = std::max(side.peaks[column], here);
        }
    }

    const Section m_loop;
    Side m_in, m_out;
};

} // namespace hr::audition

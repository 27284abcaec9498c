// SPDX-License-Identifier: GPL-3.0-or-later
#include "audio/output_meter.h"

#include "signal/levels.h"

namespace hr::app {

namespace {

constexpr double kept_s = 0.5; // while the interface is busy elsewhere

} // namespace

OutputMeter::OutputMeter(audition::Engine& engine)
    : m_reader(
          engine.listen(audition::TapPoint::Sum, audition::no_contender,
                        static_cast<std::size_t>(kept_s * engine.rateHz()) / audition::TapBlock::most_frames)),
      m_meter(2, engine.rateHz(), signal::Figures::Momentary)
{
}

OutputMeter::Levels OutputMeter::read()
{
    Levels levels;
    audition::TapBlock block;
    std::array<float, 2 * audition::TapBlock::most_frames> interleaved{};
    while (m_reader && m_reader->take(block)) {
        for (std::size_t i = 0; i < block.frames; ++i) {
            interleaved[2 * i] = block.left[i];
            interleaved[2 * i + 1] = block.right[i];
        }
        m_meter.add(interleaved.data(), block.frames);
        levels.peak_dbfs = std::max(
            levels.peak_dbfs, signal::peakDbfs(std::span<const float>(interleaved).first(2 * block.frames)));
    }
    levels.momentary_lufs = m_meter.momentaryLufs();
    return levels;
}

} // namespace hr::app

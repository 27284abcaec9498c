// SPDX-License-Identifier: GPL-3.0-or-later
//
// For a plug-in that takes nothing but whole blocks (LV2 fixedBlockLength, powerOf2BlockLength):
// collects the sound until a block is full, at the price of one block of latency, which is reported
// and so compensated wherever processors are compared.
#pragma once

#include "processors/processor.h"

#include <vector>

namespace hr::hosting::inside {

class BlockAdapter : public processors::Processor {
public:
    /// `power_of_two`: its block is the largest power of two in the block asked for.
    BlockAdapter(std::unique_ptr<processors::Processor> inner, bool power_of_two)
        : m_inner(std::move(inner)), m_power_of_two(power_of_two)
    {
    }

    const processors::ProcessorInfo& info() const noexcept override { return m_inner->info(); }
    Result<void> prepare(const processors::PlayConditions& conditions) override;
    void setState(const std::string& state) override { m_inner->setState(state); }
    std::string state() const override { return m_inner->state(); }
    void setEvents(processors::EventSink* events) override { m_inner->setEvents(events); }
    void setParameter(std::size_t index, double value) noexcept override
    {
        m_inner->setParameter(index, value);
    }
    void setTempo(double bpm) noexcept override { m_inner->setTempo(bpm); }
    void process(const float* const* in, float* const* out, std::size_t frames) noexcept override;
    std::size_t latencySamples() const noexcept override { return m_inner->latencySamples() + m_block_frames; }

private:
    void runBlock() noexcept;

    std::unique_ptr<processors::Processor> m_inner;
    bool m_power_of_two;
    std::size_t m_block_frames = 0;
    std::size_t m_at = 0; // frames collected; as many of the last block are already out
    std::vector<std::vector<float>> m_in, m_out;
};

} // namespace hr::hosting::inside

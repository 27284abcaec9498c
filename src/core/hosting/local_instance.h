// SPDX-License-Identifier: GPL-3.0-or-later
//
// A processor at work in this process: the bench's own, and what is made of them.
#pragma once

#include "hosting/instance.h"

namespace hr::hosting {

class LocalInstance : public Instance {
public:
    /// `gains_db`: where a chain tells its stages' (NetworkWatch).
    explicit LocalInstance(std::unique_ptr<processors::Processor> processor, std::stop_token cancel = {},
                           std::vector<std::atomic<float>> gains_db = {})
        : m_gains_db(std::move(gains_db)), m_processor(std::move(processor)), m_cancel(std::move(cancel))
    {
    }

    const processors::ProcessorInfo& info() const override { return m_processor->info(); }
    FaultOr<void> start(const processors::PlayConditions& conditions, std::span<const double> values) override;
    std::size_t blockFrames() const override { return m_block_frames; }
    void setParameter(std::size_t index, double value) override { m_processor->setParameter(index, value); }
    void setTempo(double bpm) override { m_processor->setTempo(bpm); }
    using Instance::process;
    FaultOr<void> process(std::span<const float* const> in, std::span<float* const> out,
                          std::size_t frames) override;
    std::size_t latencySamples() const override { return m_processor->latencySamples(); }
    std::span<const std::atomic<float>> stageGainsDb() const override { return m_gains_db; }
    FaultOr<std::string> state() override { return m_processor->state(); }
    FaultOr<void> stop() override { return {}; }

private:
    std::vector<std::atomic<float>> m_gains_db; // the processor writes to it
    std::unique_ptr<processors::Processor> m_processor;
    std::stop_token m_cancel;
    std::size_t m_block_frames = 256;
};

} // namespace hr::hosting

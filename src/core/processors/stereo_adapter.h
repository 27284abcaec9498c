// SPDX-License-Identifier: GPL-3.0-or-later
//
// A processor at work on a stereo signal, whatever its channels: a mono one runs twice; one that takes one
// channel and gives two hears the middle; a single output is heard on both sides; inputs beyond the second
// get silence, outputs beyond the second are not heard.
//
// Threads: as Processor.
#pragma once

#include "processors/processor.h"

#include <array>
#include <functional>
#include <vector>

namespace hr::processors {

class StereoAdapter : public Processor {
public:
    /// `second` must be given for a processor of one channel in and out, and is ignored for others.
    StereoAdapter(std::unique_ptr<Processor> first, std::unique_ptr<Processor> second);

    /// Whether a processor with this description needs a second one of its kind.
    static bool needsTwo(const ProcessorInfo& info) { return info.audio_in == 1 && info.audio_out == 1; }

    /// That of the processor, with two channels in and out; key inputs as they are.
    const ProcessorInfo& info() const noexcept override { return m_info; }
    Result<void> prepare(const PlayConditions& conditions) override;
    void setState(const std::string& state) override;
    std::string state() const override { return m_processors.front()->state(); }
    /// Of two only the first speaks.
    void setEvents(EventSink* events) override { m_processors.front()->setEvents(events); }
    void setParameter(std::size_t index, double value) noexcept override;
    void setTempo(double bpm) noexcept override;
    void process(const float* const* in, float* const* out, std::size_t frames) noexcept override;
    std::size_t latencySamples() const noexcept override { return m_processors.front()->latencySamples(); }

private:
    std::vector<std::unique_ptr<Processor>> m_processors;
    ProcessorInfo m_info;
    std::vector<float> m_silence, m_unheard, m_middle;
};

} // namespace hr::processors

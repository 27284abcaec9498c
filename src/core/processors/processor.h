// SPDX-License-Identifier: GPL-3.0-or-later
//
// What every effect looks like from the inside, whatever its format. Our own reference processors
// implement it directly; a stranger's is wrapped in it inside the worker and nowhere else.
//
// States: made -> [prepare] -> ready -> [process]* ; prepare again -> freshly started.
// Threads: one at a time; process() and setParameter() are real-time safe for our own processors.
#pragma once

#include "processors/description.h"
#include "signal/result.h"

#include <memory>

namespace hr::processors {

/// Channels a processor may have, in or out; key inputs count as in.
inline constexpr std::size_t most_channels = 8;

struct PlayConditions {
    double sample_rate_hz = 48000;
    std::size_t block_frames = 256; ///< process() is called with exactly this many, or fewer at the end
};

class Processor {
public:
    virtual ~Processor() = default;

    virtual const ProcessorInfo& info() const noexcept = 0;

    /// Allocates and resets: afterwards it is as freshly started, with its parameters kept.
    virtual Result<void> prepare(const PlayConditions& conditions) = 0;

    /// `index` into info().parameters; the value has been checked against the range.
    virtual void setParameter(std::size_t index, double value) noexcept = 0;

    /// `in` holds audio_in + key_in channels, `out` audio_out channels, each `frames` long;
    /// they never overlap.
    virtual void process(const float* const* in, float* const* out, std::size_t frames) noexcept = 0;

    /// As the processor itself reports it, after the last process().
    virtual std::size_t latencySamples() const noexcept { return 0; }
};

} // namespace hr::processors

// SPDX-License-Identifier: GPL-3.0-or-later
//
// What every effect looks like from the inside, whatever its format. Our own reference processors
// implement it directly; a third-party one is wrapped in it inside the worker and nowhere else.
//
// States: made -> [prepare] -> ready -> [process]* ; prepare again -> freshly started.
// Threads: one at a time, but for state(), which may be asked for while process() runs; process(),
// setParameter() and setTempo() are real-time safe for our own processors.
#pragma once

#include "processors/description.h"
#include "processors/event_sink.h"
#include "signal/result.h"

#include <cmath>
#include <memory>

namespace hr::processors {

/// Channels a processor may have, in or out; key inputs count as in.
inline constexpr std::size_t most_channels = 64;

/// No state is larger.
inline constexpr std::size_t longest_state_bytes = std::size_t{16} << 20;

/// No report of more is believed: over a minute and a half at 48 kHz.
inline constexpr std::size_t most_latency_samples = std::size_t{1} << 23;

/// A latency as it was reported, in whole samples: half a sample is nearer to where the sound already is. 0 for
/// what cannot be believed.
inline std::size_t wholeLatency(double reported_samples)
{
    if (!(reported_samples > 0) || reported_samples > static_cast<double>(most_latency_samples))
        return 0;
    return static_cast<std::size_t>(std::ceil(reported_samples - 0.5));
}

struct PlayConditions {
    double sample_rate_hz = 48000;
    std::size_t block_frames = 256; ///< process() is called with exactly this many, or fewer at the end
    double tempo_bpm = 0;           ///< told to those that ask for it; 0: none is
    /// Where the rest is as it was at the last prepare(), the processor may reset what it has rather than make
    /// it anew: for what plays, where that has to be soon. Measurements begin with everything new.
    bool may_keep_instance = false;
};

class Processor {
public:
    virtual ~Processor() = default;

    virtual const ProcessorInfo& info() const noexcept = 0;

    /// Allocates and resets: afterwards it is as freshly started, with its parameters kept.
    virtual Result<void> prepare(const PlayConditions& conditions) = 0;

    /// What it keeps beside its parameters, in a form of its own; empty: nothing. A processor whose sound lies
    /// in it is restored by handing it over before prepare(), which takes it; empty stands for its default.
    virtual std::string state() const { return {}; }
    virtual void setState(const std::string&) {}

    /// Where it says what it does by itself, for as long as it lives; null: nowhere.
    virtual void setEvents(EventSink*) {}

    /// `index` into info().parameters; the value has been checked against the range.
    virtual void setParameter(std::size_t index, double value) noexcept = 0;

    /// From the next process() on, as PlayConditions::tempo_bpm; those that do not ask for it leave it.
    virtual void setTempo(double) noexcept {}

    /// `in` holds audio_in + key_in channels, `out` audio_out channels, each `frames` long;
    /// they never overlap.
    virtual void process(const float* const* in, float* const* out, std::size_t frames) noexcept = 0;

    /// As the processor itself reports it, after the last process(): many know it no earlier. At most
    /// most_latency_samples.
    virtual std::size_t latencySamples() const noexcept { return 0; }
};

} // namespace hr::processors

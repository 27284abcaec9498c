// SPDX-License-Identifier: GPL-3.0-or-later
//
// A processor at work, wherever it runs: the bench's own in this process, a third-party one in a worker.
// This is what measurements, matching and lanes hold.
//
//     auto instance = openInstance({id, bundle});
//     (*instance)->start({48000, 256}, values);
//     auto out = (*instance)->process(stimulus);
//
// Threads: one at a time.
#pragma once

#include "hosting/location.h"
#include "hosting/worker.h"
#include "signal/audio_buffer.h"

#include <memory>
#include <utility>

namespace hr::hosting {

class Instance {
public:
    virtual ~Instance() = default;

    virtual const processors::ProcessorInfo& info() const = 0;

    /// Freshly started with these values, in the order of info().parameters.
    virtual FaultOr<void> start(const processors::PlayConditions& conditions,
                                std::span<const double> values) = 0;
    /// Of the last start(), at most stretch_frames.
    virtual std::size_t blockFrames() const = 0;

    /// From the next process() on.
    virtual void setParameter(std::size_t index, double value) = 0;
    virtual void setTempo(double bpm) = 0; ///< the same, for those that ask for it

    /// Goes on where the last call ended. `in` has audio_in + key_in channels and any length; the
    /// answer audio_out channels and the same length. Output that is NaN or infinite is a Fault that says
    /// where.
    FaultOr<signal::AudioBuffer> process(const signal::AudioBuffer& in);

    /// The same for one stretch of at most stretch_frames; null pointers in `in` stand for silence.
    virtual FaultOr<void> process(std::span<const float* const> in, std::span<float* const> out,
                                  std::size_t frames) = 0;

    /// The same for what was opened as Channels::Stereo; its key inputs get what it gets, as they do in use
    /// where nothing else is wired to them.
    FaultOr<void> processStereo(const float* in_left, const float* in_right, float* out_left, float* out_right,
                                std::size_t frames);

    /// As reported after the last start() or process(): many report it only once they have run.
    virtual std::size_t latencySamples() const = 0;

    /// Wall time of every block since the last call, in nanoseconds; kept from the first call on.
    std::vector<std::uint32_t> takeBlockTimes()
    {
        m_keeps_times = true;
        return std::exchange(m_block_ns, {});
    }
    /// Of a chain, at the index of each stage's node in its graph: its gain at the moment, as of
    /// processors::NetworkWatch. What a worker says is not looked at.
    virtual std::span<const std::atomic<float>> stageGainsDb() const { return {}; }
    /// Memory of the process it runs in; empty where that is this one.
    virtual std::optional<double> memoryMib() const { return std::nullopt; }

    /// What it keeps beside its parameters at the moment (Processor::state()): what a Location takes as its
    /// state, of a chain the states of its stages.
    virtual FaultOr<std::string> state() = 0;
    /// What it has said by itself since the last call.
    virtual std::vector<Event> takeEvents() { return {}; }

    /// What it asked for and was refused so far.
    virtual Refusals refusals() const { return {}; }

    /// Ends it, so that a fault while stopping is seen.
    virtual FaultOr<void> stop() = 0;

protected:
    void noteBlockTimes(std::span<const std::uint32_t> block_ns)
    {
        if (m_keeps_times)
            m_block_ns.insert(m_block_ns.end(), block_ns.begin(), block_ns.end());
    }

private:
    bool m_keeps_times = false;
    std::vector<std::uint32_t> m_block_ns;
};

enum class Workers {
    Reused, ///< one that has run the same bundles before, where there is one
    Fresh,  ///< a new one that ends with it: whatever fails is to be blamed on this processor alone
};

struct OpenOptions {
    Channels channels = Channels::Own;
    TimeLimits limits = {};
    Workers workers = Workers::Reused;
    /// Whatever it is doing then ends with Cause::Cancelled.
    std::stop_token cancel = {};
};

/// Whether it runs in a worker: of the bench's own, and of chains of nothing else, it does not.
bool needsWorker(const Location& location);

/// Finds a worker where one is needed and loads the processor; a chain is one worker altogether.
FaultOr<std::unique_ptr<Instance>> openInstance(const Location& location, const OpenOptions& options = {});

} // namespace hr::hosting

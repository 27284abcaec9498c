// SPDX-License-Identifier: GPL-3.0-or-later
//
// A chain at work: the nodes of a graph in the order of its schedule, stereo throughout, as one processor; so
// a chain is measured, matched and heard like any other. Where paths meet, the earlier ones are delayed until
// they are in step, by what their processors report as they run.
//
// Parameters (graph.h, Address): what the chain adds to a node, then the stage's own.
//
//     stage                  on, blend_percent (dry to wet, the dry delayed by the reported latency), trim_db
//                            (of its output), key where it has a key input
//     bands                  crossover_1_hz …: Linkwitz-Riley, 24 dB an octave
//     branch, send, return   on, level_db
//     sum, rejoin            level_db
//     key                    level_db, low_cut_hz, high_cut_hz (12 dB an octave; 0: none)
//
// Switches and levels glide over some milliseconds.
#pragma once

#include "processors/graph.h"
#include "processors/network_units.h"

#include <atomic>
#include <map>
#include <span>

namespace hr::processors {

/// What a chain tells whoever watches it from outside while it runs; each is left out where it is empty.
struct NetworkWatch {
    /// The node at work (its index in the graph, from 1; 0: none), so that it is known which one brought the
    /// process down.
    std::atomic<std::uint32_t>* running = nullptr;
    /// Of each stage, at its node's index: how far its output is above its input over the last 50 ms, in dB;
    /// not a number where nothing comes in.
    std::span<std::atomic<float>> gains_db = {};
};

class Network : public Processor {
public:
    /// By the node's id: stereo in and out (see StereoAdapter). One that is not there, or null, is missing: its
    /// stage is bypassed, and keeps its place.
    using Stages = std::map<std::string, std::unique_ptr<Processor>>;

    /// `id` and `name` become those of the whole. Errors as of compile(), and edges to a key input that the
    /// stage does not have.
    static Result<std::unique_ptr<Network>> make(const std::string& id, const std::string& name,
                                                 const Graph& graph, Stages stages);

    const ProcessorInfo& info() const noexcept override { return m_info; }
    /// Where a stage's processor fails, the error begins with the name of its node.
    Result<void> prepare(const PlayConditions& conditions) override;
    /// Those of its stages, by their nodes (states.h).
    void setState(const std::string& state) override;
    std::string state() const override;
    void setEvents(EventSink* events) override;
    void setParameter(std::size_t index, double value) noexcept override;
    void setTempo(double bpm) noexcept override;
    void process(const float* const* in, float* const* out, std::size_t frames) noexcept override;
    /// Of the longest path, whether its stages are on or not, so that switching one moves nothing in time.
    std::size_t latencySamples() const noexcept override { return m_latency; }

    /// The processors of its stages, taken out for another network; this one is of no more use then.
    Stages takeStages();

    /// From now on.
    void tell(const NetworkWatch& watch) { m_watch = watch; }

private:
    Network(Graph graph, Schedule schedule);
    void describe(const std::string& id, const std::string& name);
    std::size_t latestArrival(const std::vector<std::vector<Schedule::Input>>& inputs) const noexcept;
    void tellNode(std::size_t node) const noexcept
    {
        if (m_watch.running)
            m_watch.running->store(static_cast<std::uint32_t>(node), std::memory_order_relaxed);
    }
    void tellGain(std::size_t node, const StereoPointers& in, const StereoBuffer& out,
                  std::size_t frames) noexcept;
    void gather(const std::vector<Schedule::Input>& edges, std::size_t until, StereoBuffer& into,
                StereoPointers& result, std::size_t frames) noexcept;

    /// An edge into a node where others end, too: it may have to wait for them.
    struct Wait {
        StereoDelay delay;
        bool needed = false;
    };
    struct Target {
        std::size_t node, index;
    };

    const Graph m_graph;
    const Schedule m_schedule;
    ProcessorInfo m_info;
    std::vector<std::unique_ptr<Unit>> m_units;    // by node
    std::vector<Target> m_targets;                 // by parameter
    std::vector<Wait> m_waits;                     // by edge
    std::vector<StereoBuffer> m_outputs;           // by output; the first stays empty: it is the chain's input
    std::vector<StereoPointers> m_at;              // by output: where it lies at the moment
    std::vector<std::size_t> m_arrival;            // by output: its latency, in samples
    std::vector<std::vector<StereoBuffer>> m_sums; // by node and input; the last is the chain's output
    std::size_t m_latency = 0;
    NetworkWatch m_watch;
    struct Powers {
        double in = 0, out = 0; // mean squares, followed over 50 ms
    };
    std::vector<Powers> m_powers; // by node
    double m_rate_hz = 48000;
    std::vector<std::unique_ptr<EventSink>> m_stage_events; // by node; null where it has no processor
};

} // namespace hr::processors

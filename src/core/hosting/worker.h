// SPDX-License-Identifier: GPL-3.0-or-later
//
// A conversation with one worker. Every call is bounded in time; when one returns a Fault the process
// is gone, and every further call returns that same Fault.
//
//     auto worker = Worker::spawn();
//     auto info = (*worker)->load(bundle, "lv2:urn:example:tern");
//     (*worker)->start({48000, 256}, values);
//     (*worker)->run(frames, changes);   // sound in and out through block()
//
// Threads: one at a time.
#pragma once

#include "hosting/answers.h"
#include "hosting/location.h"
#include "hosting/refusals.h"
#include "hosting/worker_process.h"
#include "processors/processor.h"

#include <deque>
#include <filesystem>
#include <optional>
#include <span>
#include <stop_token>

namespace hr::hosting {

/// How long something may take: in processor time that it has used, and in time in which it could have run and
/// did not. Waiting for a processor does not count: on a busy machine what is slow has only not had its turn.
/// Both are told by the system, nothing by the worker.
struct TimeLimits {
    std::chrono::milliseconds step{10000}; ///< describe, load, start, stop
    std::chrono::milliseconds block{2000}; ///< one block of process()
    /// Processor time of one request, over all threads: it also ends a plug-in whose own threads never rest.
    std::chrono::seconds processor_time{60};
};

class Worker {
public:
    static Result<std::unique_ptr<Worker>> spawn(TimeLimits limits = {});

    /// Reads the descriptions; where a format has them nowhere else (Format::describing()), loads the library.
    FaultOr<BundleContents> describe(const std::filesystem::path& bundle);

    /// Opens the library, or libraries. Anything loaded before is stopped first, but for the stages of a chain
    /// that the new one has as well, which are kept.
    FaultOr<processors::ProcessorInfo> load(const Location& location, Channels channels = Channels::Own);

    /// Freshly started: called again, it starts over. `values` in the order of the description.
    /// `state` as of Processor::setState().
    FaultOr<Ran> start(const processors::PlayConditions& conditions, std::span<const double> values,
                       const std::string& state = {});

    /// Runs `frames` (at most stretch_frames) of block().in to block().out, in blocks as started.
    FaultOr<Ran> run(std::size_t frames, std::span<const ParameterChange> changes);

    /// What it keeps beside its parameters at the moment, as of Processor::state().
    FaultOr<std::string> state();

    /// What it has said by itself since the last call, oldest first, at most most_events.
    std::vector<Event> takeEvents();

    /// Stops and unloads. A processor that fails here has failed at Phase::Stop.
    FaultOr<void> stop();

    /// The same without waiting: false where the worker has failed before. Then only stopping() may be called,
    /// and once that is Done, everything again.
    bool beginStop();
    enum class Stopping { NotYet, Done, Failed };
    Stopping stopping(std::chrono::milliseconds patience);
    bool hasFailed() const { return m_failed.has_value(); }
    bool isAlive() const { return !hasFailed() && m_process->isAlive(); }
    bool isNew() const { return m_location == Location(); } ///< it has loaded nothing yet

    void setLimits(TimeLimits limits) { m_limits = limits; }
    /// Once it asks to stop, whatever is under way ends at once with Cause::Cancelled, and the process with it.
    void setCancel(std::stop_token cancel) { m_cancel = std::move(cancel); }
    /// Of all its threads, as of niceness(); false where that is not allowed.
    bool setNiceness(int niceness);

    /// What its cage has refused it since it was spawned. The worker says so: it may say too much.
    Refusals refusals() const;

    SharedBlock& block() { return m_process->block(); }
    pid_t pid() const { return m_process->pid(); }
    /// What the process holds in memory at the moment; empty where it is gone.
    std::optional<double> memoryMib() const;

private:
    explicit Worker(std::unique_ptr<WorkerProcess> process, TimeLimits limits)
        : m_process(std::move(process)), m_limits(limits)
    {
    }
    FaultOr<std::string> ask(Phase phase, Kind kind, const std::string& body, std::size_t blocks = 1);
    Reception wait(Kind kind, std::size_t blocks, Message& answer, WorkerProcess::Ending& why);
    Reception receiveAnswer(int from, Message& answer, std::chrono::milliseconds patience);
    tl::unexpected<Fault> end(Phase phase, WorkerProcess::Ending why);
    FaultOr<Ran> askToRun(Phase phase, Kind kind, const std::string& body, std::size_t blocks = 1);
    tl::unexpected<Fault> fail(Fault fault);

    std::unique_ptr<WorkerProcess> m_process;
    TimeLimits m_limits;
    std::stop_token m_cancel;
    Location m_location;           // what is loaded
    std::optional<Fault> m_failed; // set once; nothing is said to the worker afterwards
    std::size_t m_block_frames = 256;
    std::deque<Event> m_events; // at most most_events
};

} // namespace hr::hosting

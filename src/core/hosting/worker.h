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

#include <filesystem>
#include <optional>
#include <span>
#include <stop_token>

namespace hr::hosting {

/// How long something may take. The clock and its processor time must both have run out, or nothing of it may
/// want a processor: on a busy machine what is slow has only not had its turn.
struct TimeLimits {
    std::chrono::milliseconds step{10000}; ///< describe, load, start, stop
    std::chrono::milliseconds block{2000}; ///< one block of process()
    /// Processor time of one request, over all threads: it also ends a plug-in whose own threads never rest.
    std::chrono::seconds processor_time{60};
};

/// Whether `bundle` is a LADSPA library rather than an LV2 bundle, which is a folder.
bool isLadspaLibrary(const std::filesystem::path& bundle);

class Worker {
public:
    static Result<std::unique_ptr<Worker>> spawn(TimeLimits limits = {});

    /// Reads the descriptions; loads no library, but for LADSPA, which has them nowhere else.
    FaultOr<BundleContents> describe(const std::filesystem::path& bundle);

    /// Opens the library, or libraries. Anything loaded before is stopped first.
    FaultOr<processors::ProcessorInfo> load(const Location& location, Channels channels = Channels::Own);

    /// Freshly started: called again, it starts over. `values` in the order of the description.
    FaultOr<Ran> start(const processors::PlayConditions& conditions, std::span<const double> values);

    /// Runs `frames` (at most stretch_frames) of block().in to block().out, in blocks as started.
    FaultOr<Ran> run(std::size_t frames, std::span<const ParameterChange> changes);

    /// Stops and unloads. A processor that fails here has failed at Phase::Stop.
    FaultOr<void> stop();

    /// The same without waiting: false where the worker has failed before. Then only stopping() may be called,
    /// and once that is Done, everything again.
    bool beginStop();
    enum class Stopping { NotYet, Done, Failed };
    Stopping stopping(std::chrono::milliseconds patience);
    bool hasStopped() const { return m_stopped; } ///< it has stopped one before: it is not new

    void setLimits(TimeLimits limits) { m_limits = limits; }
    /// Once it asks to stop, whatever is under way ends at once with Cause::Cancelled, and the process with it.
    void setCancel(std::stop_token cancel) { m_cancel = std::move(cancel); }

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
    FaultOr<std::string> ask(Phase phase, Kind kind, const std::string& body);
    Reception wait(Kind kind, Message& answer, WorkerProcess::Ending& why);
    tl::unexpected<Fault> end(Phase phase, WorkerProcess::Ending why);
    FaultOr<Ran> askToRun(Phase phase, Kind kind, const std::string& body);
    tl::unexpected<Fault> fail(Fault fault);

    std::unique_ptr<WorkerProcess> m_process;
    TimeLimits m_limits;
    std::stop_token m_cancel;
    Location m_location;           // what is loaded
    std::optional<Fault> m_failed; // set once; nothing is said to the worker afterwards
    bool m_stopped = false;
};

} // namespace hr::hosting

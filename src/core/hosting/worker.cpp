// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/worker.h"

#include "hosting/assemble.h"
#include "hosting/formats/format.h"
#include "hosting/location_json.h"
#include "hosting/path_text.h"
#include "hosting/thread_priority.h"
#include "processors/plain_text.h"

#include <algorithm>
#include <cassert>
#include <cstring>
#include <fstream>
#include <unistd.h>

namespace hr::hosting {

using nlohmann::json;

namespace {

/// How often a worker that has not answered yet is looked at.
constexpr std::chrono::milliseconds look_every{20};
/// How often it may have rested as long as allowed, if it claims to get on in between.
constexpr int rests = 4;

/// Tells a worker that hangs from one that is slow, or that has not had its turn. What the worker says of the
/// blocks it has done can only bring forward the end of a wait that is bounded without it.
class Watch {
public:
    Watch(WorkerProcess& process, std::chrono::nanoseconds limit, std::chrono::nanoseconds processor_limit,
          std::size_t blocks)
        : m_process(process), m_limit(limit), m_processor_limit(processor_limit),
          m_blocks_at_begin(blocksDone()),
          m_most_blocks(blocks), m_at_begin{std::chrono::steady_clock::now(), process.processorTime(), {}},
          m_at_step(m_at_begin)
    {
    }

    /// The first time it only begins to count what it waits for: most requests are answered before that, and
    /// asking the system takes longer than many of them.
    bool isHanging()
    {
        if (std::exchange(m_first, false)) {
            (void)m_process.takeWaiting();
            return false;
        }
        const auto now = std::chrono::steady_clock::now();
        const auto used = m_process.processorTime();
        const auto waiting = m_process.takeWaiting();
        m_waited += waiting.time;
        const std::size_t blocks = std::min<std::size_t>(blocksDone() - m_blocks_at_begin, m_most_blocks);
        const Spent spent{now, used, m_waited};
        if (blocks > m_blocks) {
            m_blocks = blocks;
            m_at_step = spent;
        }
        if (used - m_at_begin.used >= m_processor_limit || used - m_at_step.used >= m_limit)
            return true;
        // A wait that goes on is told only once it has ended.
        return spent.restedSince(m_at_begin) >= rests * m_limit ||
               (!waiting.now && spent.restedSince(m_at_step) >= m_limit);
    }

private:
    /// Up to a moment.
    struct Spent {
        std::chrono::steady_clock::time_point at;
        std::chrono::nanoseconds used{}, waited{};

        /// What is left of the time since then: it could have run and did not.
        std::chrono::nanoseconds restedSince(const Spent& then) const
        {
            return (at - then.at) - (used - then.used) - (waited - then.waited);
        }
    };

    std::uint32_t blocksDone() { return m_process.block().blocks_done.load(std::memory_order_relaxed); }

    WorkerProcess& m_process;
    std::chrono::nanoseconds m_limit, m_processor_limit;
    std::uint32_t m_blocks_at_begin;
    std::size_t m_most_blocks;
    std::size_t m_blocks = 0; // believed to be done
    bool m_first = true;
    std::chrono::nanoseconds m_waited{};
    Spent m_at_begin, m_at_step;
};

std::string seconds(std::chrono::milliseconds limit)
{
    const auto ms = limit.count();
    return ms % 1000 == 0 ? std::to_string(ms / 1000) + " s" : std::to_string(ms) + " ms";
}

} // namespace

Result<std::unique_ptr<Worker>> Worker::spawn(TimeLimits limits)
{
    auto process = WorkerProcess::spawn();
    if (!process)
        return tl::make_unexpected(process.error());
    return std::unique_ptr<Worker>(new Worker(std::move(*process), limits));
}

std::optional<double> Worker::memoryMib() const
{
    // The second figure is the resident size in pages (proc(5)).
    std::ifstream statm("/proc/" + std::to_string(pid()) + "/statm");
    double size = 0;
    double resident = 0;
    if (!(statm >> size >> resident))
        return std::nullopt;
    return resident * static_cast<double>(sysconf(_SC_PAGESIZE)) / (1 << 20);
}

tl::unexpected<Fault> Worker::fail(Fault fault)
{
    m_failed = std::move(fault);
    return tl::make_unexpected(*m_failed);
}

Refusals Worker::refusals() const
{
    const SharedBlock& block = m_process->block();
    const std::uint32_t bits = block.refused.load(std::memory_order_acquire);
    const auto pathIn = [](std::array<char, refused_path_bytes> path) { // it may change while it is read
        return processors::plainText({path.data(), strnlen(path.data(), path.size())}, path.size());
    };
    Refusals refusals;
    refusals.network = (bits & refused_network) != 0;
    refusals.programs = (bits & refused_programs) != 0;
    refusals.files = (bits & refused_files) != 0;
    refusals.processes = (bits & refused_processes) != 0;
    refusals.reading = (bits & refused_reading) != 0;
    if (refusals.files)
        refusals.path = pathIn(block.refused_path);
    if (refusals.reading)
        refusals.read_path = pathIn(block.unread_path);
    return refusals;
}

/// The next frame from there; what is told unasked meanwhile is kept.
Reception Worker::receiveAnswer(int from, Message& answer, std::chrono::milliseconds patience)
{
    for (;;) {
        const Reception got = receive(from, answer, patience);
        if (got != Reception::Message || answer.kind != Kind::Told)
            return got;
        Event event;
        if (from != m_process->control() || answer.body.size() != sizeof event)
            return Reception::Rubbish;
        std::memcpy(&event, answer.body.data(), sizeof event);
        if (m_events.size() == most_events)
            m_events.pop_front();
        m_events.push_back(event);
    }
}

std::vector<Event> Worker::takeEvents()
{
    Message message;
    if (!m_failed &&
        receiveAnswer(m_process->control(), message, std::chrono::milliseconds(0)) != Reception::Timeout)
        (void)end(Phase::Run, WorkerProcess::Ending::ByItself); // it is gone, or answers what nobody asked
    std::vector<Event> events(m_events.begin(), m_events.end());
    m_events.clear();
    return events;
}

/// Until it answers; what else ends the waiting is put into `why`.
Reception Worker::wait(Kind kind, std::size_t blocks, Message& answer, WorkerProcess::Ending& why)
{
    Watch watch(*m_process, kind == Kind::Run ? m_limits.block : m_limits.step, m_limits.processor_time,
                blocks);
    for (;;) {
        const Reception got =
            receiveAnswer(kind == Kind::Run ? m_process->sound() : m_process->control(), answer, look_every);
        if (got != Reception::Timeout)
            return got;
        why = m_cancel.stop_requested() ? WorkerProcess::Ending::Cancelled : WorkerProcess::Ending::Hang;
        if (m_cancel.stop_requested() || watch.isHanging())
            return got;
    }
}

/// Ends the process and says why, and of a chain in which stage.
tl::unexpected<Fault> Worker::end(Phase phase, WorkerProcess::Ending why)
{
    const std::size_t running = m_process->block().running.load(std::memory_order_relaxed);
    Fault fault = m_process->end(phase, why);
    if (fault.cause == Cause::Hang && why == WorkerProcess::Ending::Hang)
        fault.detail = "nothing within " + seconds(phase == Phase::Run ? m_limits.block : m_limits.step) +
                       (fault.detail.empty() ? "" : "; ") + fault.detail;
    if (const std::string stage = running > 0 ? stageName(m_location, running - 1) : ""; !stage.empty())
        fault.detail = stage + (fault.detail.empty() ? "" : ": ") + fault.detail;
    return fail(std::move(fault));
}

FaultOr<std::string> Worker::ask(Phase phase, Kind kind, const std::string& body, std::size_t blocks)
{
    if (m_failed)
        return tl::make_unexpected(*m_failed);
    using Ending = WorkerProcess::Ending;
    if (m_cancel.stop_requested())
        return end(phase, Ending::Cancelled);
    if (!send(kind == Kind::Run ? m_process->sound() : m_process->control(), kind, body.data(), body.size()))
        return end(phase, Ending::ByItself);
    Message answer;
    auto why = Ending::ByItself;
    const Reception got = wait(kind, blocks, answer, why);
    if (got == Reception::Timeout || got == Reception::Closed)
        return end(phase, got == Reception::Closed ? Ending::ByItself : why);
    if (got == Reception::Rubbish || (answer.kind != Kind::Done && answer.kind != Kind::Failed)) {
        Fault fault = m_process->end(phase, Ending::Hang);
        fault.cause = Cause::Crash;
        fault.detail = "it wrote rubbish over the worker's answers";
        return fail(fault);
    }
    if (answer.kind == Kind::Failed)
        return tl::make_unexpected(faultFromAnswer(phase, answer.body)); // the worker itself is well
    return std::move(answer.body);
}

FaultOr<BundleContents> Worker::describe(const std::filesystem::path& bundle)
{
    const Format* format = formatOfBundle(bundle);
    if (!format)
        return fault(Phase::Read, Cause::MissingFile, pathText(bundle) + " is not a bundle of any format");
    if (std::string why = format->whyUnreadable(bundle); !why.empty())
        return fault(Phase::Read, Cause::InvalidDescription, std::move(why));
    auto body = ask(format->describing(), Kind::Describe,
                    json{{"bundle", pathText(bundle)}, {"format", format->key()}}.dump());
    if (!body)
        return tl::make_unexpected(body.error());
    return contentsFromAnswer(*body, pathText(bundle));
}

FaultOr<processors::ProcessorInfo> Worker::load(const Location& location, Channels channels)
{
    m_location = location;
    m_process->block().refused.store(0, std::memory_order_relaxed);
    json request = toJson(location);
    request["stereo"] = channels == Channels::Stereo;
    request["processor_time_s"] = m_limits.processor_time.count();
    auto body = ask(Phase::Load, Kind::Load, request.dump(-1, ' ', false, json::error_handler_t::replace));
    if (!body)
        return tl::make_unexpected(body.error());
    return infoFromAnswer(*body);
}

FaultOr<Ran> Worker::askToRun(Phase phase, Kind kind, const std::string& body, std::size_t blocks)
{
    auto answer = ask(phase, kind, body, blocks);
    if (!answer)
        return tl::make_unexpected(answer.error());
    auto ran = ranFromAnswer(phase, *answer);
    return ran ? ran : fail(ran.error());
}

FaultOr<Ran> Worker::start(const processors::PlayConditions& conditions, std::span<const double> values,
                           const std::string& state)
{
    m_block_frames = std::clamp<std::size_t>(conditions.block_frames, 1, stretch_frames);
    std::string body = json{{"rate", conditions.sample_rate_hz},
                            {"block", conditions.block_frames},
                            {"tempo", conditions.tempo_bpm},
                            {"may_keep", conditions.may_keep_instance},
                            {"values", std::vector<double>(values.begin(), values.end())}}
                           .dump();
    body += '\0' + state;
    return askToRun(Phase::Start, Kind::Start, body);
}

FaultOr<Ran> Worker::run(std::size_t frames, std::span<const ParameterChange> changes)
{
    assert(frames <= stretch_frames);
    const RunRequest request{static_cast<std::uint32_t>(frames), static_cast<std::uint32_t>(changes.size())};
    std::string body(sizeof request + changes.size_bytes(), '\0');
    std::memcpy(body.data(), &request, sizeof request);
    if (!changes.empty())
        std::memcpy(body.data() + sizeof request, changes.data(), changes.size_bytes());
    return askToRun(Phase::Run, Kind::Run, body, (frames + m_block_frames - 1) / m_block_frames);
}

FaultOr<std::string> Worker::state()
{
    auto state = ask(Phase::Run, Kind::State, {});
    if (state && state->size() > processors::longest_state_bytes)
        return fault(Phase::Run, Cause::InvalidDescription, "its state is larger than 16 MiB");
    return state;
}

bool Worker::setNiceness(int niceness)
{
    return hosting::setNiceness(pid(), niceness);
}

FaultOr<void> Worker::stop()
{
    auto answer = ask(Phase::Stop, Kind::Stop, {});
    if (!answer)
        return tl::make_unexpected(answer.error());
    return {};
}

bool Worker::beginStop()
{
    return !m_failed && send(m_process->control(), {Kind::Stop, {}});
}

Worker::Stopping Worker::stopping(std::chrono::milliseconds patience)
{
    Message answer;
    const Reception got = receiveAnswer(m_process->control(), answer, patience);
    if (got == Reception::Timeout)
        return Stopping::NotYet;
    return got == Reception::Message && answer.kind == Kind::Done ? Stopping::Done : Stopping::Failed;
}

} // namespace hr::hosting

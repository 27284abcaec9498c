// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/worker.h"

#include "hosting/assemble.h"
#include "hosting/location_json.h"
#include "hosting/path_text.h"
#include "processors/plain_text.h"

#include <cassert>
#include <cstring>
#include <fstream>
#include <unistd.h>

namespace hr::hosting {

using nlohmann::json;

namespace {

/// How often a worker that has not answered yet is looked at.
constexpr std::chrono::milliseconds look_every{20};
/// Whatever the machine is doing: by then it is given up.
constexpr int patience_factor = 30;

/// Tells a worker that hangs from one that is slow, or that has not had its turn.
class Watch {
public:
    Watch(WorkerProcess& process, std::chrono::nanoseconds limit, std::chrono::nanoseconds processor_limit)
        : m_process(process), m_limit(limit), m_processor_limit(processor_limit),
          m_processor_begun(process.processorTime())
    {
        progressed();
    }

    bool isHanging()
    {
        if (m_process.block().blocks_done.load(std::memory_order_relaxed) != m_blocks)
            progressed(); // while blocks get done it is alive, however long the whole stretch takes
        const auto used = m_process.processorTime();
        if (used - m_processor_begun >= m_processor_limit)
            return true;
        const auto waited = std::chrono::steady_clock::now() - m_since;
        if (waited < m_limit)
            return false;
        const bool rests = used == m_processor_seen && !m_process.wantsProcessor();
        m_rested = rests ? m_rested + 1 : 0;
        m_processor_seen = used;
        return used - m_processor_since >= m_limit || m_rested > 2 || waited >= patience_factor * m_limit;
    }

private:
    void progressed()
    {
        m_blocks = m_process.block().blocks_done.load(std::memory_order_relaxed);
        m_since = std::chrono::steady_clock::now();
        m_processor_since = m_process.processorTime();
    }

    WorkerProcess& m_process;
    std::chrono::nanoseconds m_limit, m_processor_limit;
    std::chrono::nanoseconds m_processor_begun, m_processor_since{}, m_processor_seen{};
    std::uint32_t m_blocks = 0;
    std::chrono::steady_clock::time_point m_since;
    int m_rested = 0; // looks in a row at which nothing of it moved
};

std::string seconds(std::chrono::milliseconds limit)
{
    const auto ms = limit.count();
    return ms % 1000 == 0 ? std::to_string(ms / 1000) + " s" : std::to_string(ms) + " ms";
}

} // namespace

bool isLadspaLibrary(const std::filesystem::path& bundle)
{
    return bundle.extension() == ".so";
}

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
    Refusals refusals{(bits & refused_network) != 0,
                      (bits & refused_programs) != 0,
                      (bits & refused_files) != 0,
                      (bits & refused_processes) != 0,
                      {}};
    if (refusals.files) {
        const std::array<char, refused_path_bytes> path = block.refused_path; // it may change while it is read
        refusals.path = processors::plainText({path.data(), strnlen(path.data(), path.size())}, path.size());
    }
    return refusals;
}

/// Until it answers; what else ends the waiting is put into `why`.
Reception Worker::wait(Kind kind, Message& answer, WorkerProcess::Ending& why)
{
    Watch watch(*m_process, kind == Kind::Run ? m_limits.block : m_limits.step, m_limits.processor_time);
    for (;;) {
        const Reception got = receive(m_process->control(), answer, look_every);
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
    if (why == WorkerProcess::Ending::Hang)
        fault.detail = "nothing within " + seconds(phase == Phase::Run ? m_limits.block : m_limits.step) +
                       (fault.detail.empty() ? "" : "; ") + fault.detail;
    if (const std::string stage = running > 0 ? stageName(m_location, running - 1) : ""; !stage.empty())
        fault.detail = stage + (fault.detail.empty() ? "" : ": ") + fault.detail;
    return fail(std::move(fault));
}

FaultOr<std::string> Worker::ask(Phase phase, Kind kind, const std::string& body)
{
    if (m_failed)
        return tl::make_unexpected(*m_failed);
    using Ending = WorkerProcess::Ending;
    if (m_cancel.stop_requested())
        return end(phase, Ending::Cancelled);
    if (!send(m_process->control(), kind, body.data(), body.size()))
        return end(phase, Ending::ByItself);
    Message answer;
    auto why = Ending::ByItself;
    const Reception got = wait(kind, answer, why);
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
    const Phase phase = isLadspaLibrary(bundle) ? Phase::Load : Phase::Read;
    auto body = ask(phase, Kind::Describe, json{{"bundle", pathText(bundle)}}.dump());
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

FaultOr<Ran> Worker::askToRun(Phase phase, Kind kind, const std::string& body)
{
    auto answer = ask(phase, kind, body);
    if (!answer)
        return tl::make_unexpected(answer.error());
    auto ran = ranFromAnswer(phase, *answer);
    return ran ? ran : fail(ran.error());
}

FaultOr<Ran> Worker::start(const processors::PlayConditions& conditions, std::span<const double> values)
{
    return askToRun(Phase::Start, Kind::Start,
                    json{{"rate", conditions.sample_rate_hz},
                         {"block", conditions.block_frames},
                         {"tempo", conditions.tempo_bpm},
                         {"values", std::vector<double>(values.begin(), values.end())}}
                        .dump());
}

FaultOr<Ran> Worker::run(std::size_t frames, std::span<const ParameterChange> changes)
{
    assert(frames <= stretch_frames);
    const RunRequest request{static_cast<std::uint32_t>(frames), static_cast<std::uint32_t>(changes.size())};
    std::string body(sizeof request + changes.size_bytes(), '\0');
    std::memcpy(body.data(), &request, sizeof request);
    if (!changes.empty())
        std::memcpy(body.data() + sizeof request, changes.data(), changes.size_bytes());
    return askToRun(Phase::Run, Kind::Run, body);
}

FaultOr<void> Worker::stop()
{
    auto answer = ask(Phase::Stop, Kind::Stop, {});
    if (!answer)
        return tl::make_unexpected(answer.error());
    m_stopped = true;
    return {};
}

bool Worker::beginStop()
{
    return !m_failed && send(m_process->control(), {Kind::Stop, {}});
}

Worker::Stopping Worker::stopping(std::chrono::milliseconds patience)
{
    Message answer;
    const Reception got = receive(m_process->control(), answer, patience);
    if (got == Reception::Timeout)
        return Stopping::NotYet;
    m_stopped = true;
    return got == Reception::Message && answer.kind == Kind::Done ? Stopping::Done : Stopping::Failed;
}

} // namespace hr::hosting

// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/worker.h"

#include <cassert>
#include <cstring>
#include <fstream>
#include <nlohmann/json.hpp>
#include <unistd.h>

namespace hr::hosting {

using nlohmann::json;

namespace {

json toJson(const Location& location)
{
    return {{"id", location.id}, {"bundle", location.bundle.string()}, {"preset", location.preset}};
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

FaultOr<std::string> Worker::ask(Stage stage, Kind kind, const std::string& body)
{
    if (m_failed)
        return tl::make_unexpected(*m_failed);
    if (!send(m_process->control(), kind, body.data(), body.size()))
        return fail(m_process->end(stage, false));

    // While blocks get done the worker is alive, however long the whole stretch takes.
    const auto limit = kind == Kind::Run ? m_limits.block : m_limits.step;
    std::uint32_t seen = m_process->block().blocks_done.load(std::memory_order_relaxed);
    Message answer;
    Reception got = receive(m_process->control(), answer, limit);
    while (got == Reception::Timeout) {
        const std::uint32_t now = m_process->block().blocks_done.load(std::memory_order_relaxed);
        if (now == seen)
            return fail(m_process->end(stage, true));
        seen = now;
        got = receive(m_process->control(), answer, limit);
    }
    if (got == Reception::Closed)
        return fail(m_process->end(stage, false));
    if (got == Reception::Rubbish || (answer.kind != Kind::Done && answer.kind != Kind::Failed)) {
        Fault fault = m_process->end(stage, true);
        fault.cause = Cause::Crash;
        fault.detail = "it wrote rubbish over the worker's answers";
        return fail(fault);
    }
    if (answer.kind == Kind::Failed)
        return tl::make_unexpected(faultFromAnswer(stage, answer.body)); // the worker itself is well
    return std::move(answer.body);
}

FaultOr<BundleContents> Worker::describe(const std::filesystem::path& bundle)
{
    const Stage stage = isLadspaLibrary(bundle) ? Stage::Load : Stage::Read;
    auto body = ask(stage, Kind::Describe, json{{"bundle", bundle.string()}}.dump());
    if (!body)
        return tl::make_unexpected(body.error());
    return contentsFromAnswer(*body, bundle.string());
}

FaultOr<processors::ProcessorInfo> Worker::load(const Location& location, Channels channels)
{
    json request = toJson(location);
    request["stages"] = json::array();
    request["stereo"] = channels == Channels::Stereo;
    request["processor_time_s"] = m_limits.processor_time.count();
    for (const Location& stage : location.stages)
        request["stages"].push_back(toJson(stage));
    auto body = ask(Stage::Load, Kind::Load, request.dump());
    if (!body)
        return tl::make_unexpected(body.error());
    return infoFromAnswer(*body);
}

FaultOr<Ran> Worker::askToRun(Stage stage, Kind kind, const std::string& body)
{
    auto answer = ask(stage, kind, body);
    if (!answer)
        return tl::make_unexpected(answer.error());
    auto ran = ranFromAnswer(stage, *answer);
    return ran ? ran : fail(ran.error());
}

FaultOr<Ran> Worker::start(const processors::PlayConditions& conditions, std::span<const double> values)
{
    return askToRun(Stage::Start, Kind::Start,
                    json{{"rate", conditions.sample_rate_hz},
                         {"block", conditions.block_frames},
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
    return askToRun(Stage::Run, Kind::Run, body);
}

FaultOr<void> Worker::stop()
{
    auto answer = ask(Stage::Stop, Kind::Stop, {});
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

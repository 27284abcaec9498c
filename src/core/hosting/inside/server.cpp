// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/inside/server.h"

#include "hosting/assemble.h"
#include "hosting/formats/format.h"
#include "hosting/inside/cage.h"
#include "hosting/inside/event_queue.h"
#include "hosting/location_json.h"
#include "hosting/path_text.h"
#include "hosting/wire.h"
#include "processors/description_json.h"
#include "processors/json_text.h"
#include "processors/reference/registry.h"

#include <algorithm>
#include <cassert>
#include <csignal>
#include <cstdlib>
#include <cstring>
#include <new>
#include <poll.h>
#include <sys/mman.h>
#include <sys/prctl.h>
#include <sys/resource.h>
#include <thread>
#include <unistd.h>

namespace hr::hosting::inside {

namespace {

using nlohmann::json;
using nlohmann::ordered_json;

constexpr rlim_t memory_limit_bytes = rlim_t{2} << 30;
constexpr rlim_t file_limit_bytes = rlim_t{64} << 20; // prints, and whatever a plug-in writes
constexpr rlim_t most_open_files = 1024;

void limitThisProcess()
{
    std::signal(SIGXFSZ, SIG_IGN); // a write beyond the limit fails instead of ending us
#ifndef HONEST_RACK_SANITIZED
    // Sanitizers reserve terabytes of addresses.
    const rlimit memory{memory_limit_bytes, memory_limit_bytes};
    setrlimit(RLIMIT_AS, &memory);
#endif
    const rlimit file{file_limit_bytes, file_limit_bytes};
    setrlimit(RLIMIT_FSIZE, &file);
    const rlimit files{most_open_files, most_open_files};
    setrlimit(RLIMIT_NOFILE, &files);
    const rlimit core{0, 0};
    setrlimit(RLIMIT_CORE, &core);
    std::set_new_handler([] { _exit(worker_out_of_memory_code); });
}

/// Processor time for one request. A soft limit, so that it can be raised again for the next.
void allowProcessorTime(rlim_t seconds)
{
    rusage used{};
    getrusage(RUSAGE_SELF, &used);
    rlimit limit{};
    getrlimit(RLIMIT_CPU, &limit);
    limit.rlim_cur = static_cast<rlim_t>(used.ru_utime.tv_sec + used.ru_stime.tv_sec) + 1 + seconds;
    setrlimit(RLIMIT_CPU, &limit);
}

/// This process and, where forking was possible at all, its children.
void endAll()
{
    kill(0, SIGKILL);
    kill(getpid(), SIGKILL); // the cage refuses the other
}

/// Ends this process and its children as soon as the other side is gone, even while a plug-in hangs. Where the
/// system ends a process with its parent (prctl(2)) that is sooner, and nothing a plug-in does to this thread
/// keeps it.
void watchParent()
{
    std::thread([] {
        sigset_t all;
        sigfillset(&all);
        pthread_sigmask(SIG_BLOCK, &all, nullptr);
        pollfd control{worker_control_fd, POLLRDHUP, 0};
        while (poll(&control, 1, -1) < 0) {
        }
        endAll();
    }).detach();
}

/// Denormals off while plug-ins run, as every host does; their numbers would only cost time.
void flushDenormals()
{
#if defined(__SSE2__)
    __builtin_ia32_ldmxcsr(__builtin_ia32_stmxcsr() | 0x8040U);
#endif
}

std::string dumped(const ordered_json& answer)
{
    // Names in bundles need not be valid UTF-8.
    return answer.dump(-1, ' ', false, json::error_handler_t::replace);
}

ordered_json toJson(const Fault& fault)
{
    return {{"stage", word(fault.phase)}, {"cause", word(fault.cause)}, {"detail", fault.detail}};
}

void answerDone(int to, const std::string& body)
{
    send(to, {Kind::Done, body});
}

void answerFailed(int to, const Fault& fault)
{
    send(to, {Kind::Failed, dumped(toJson(fault))});
}

ordered_json toJson(const BundleContents& contents)
{
    ordered_json answer{{"processors", ordered_json::array()},
                        {"faults", ordered_json::array()},
                        {"presets", ordered_json::array()},
                        {"left_out", ordered_json::array()}};
    for (const auto& [id, name, reason] : contents.left_out)
        answer["left_out"].push_back({{"id", id}, {"name", name}, {"reason", reason}});
    for (const auto& [processor, preset] : contents.presets) {
        ordered_json one = processors::toJson(preset);
        one["processor"] = processor;
        answer["presets"].push_back(one);
    }
    for (const auto& info : contents.processors)
        answer["processors"].push_back(processors::toJson(info));
    for (const auto& broken : contents.broken) {
        ordered_json one = toJson(broken.fault);
        one["id"] = broken.id;
        answer["faults"].push_back(one);
    }
    return answer;
}

class Server {
public:
    Server(SharedBlock& block, HostedFormats formats) : m_block(block), m_formats(std::move(formats)) {}

    bool isIdle() const { return !m_processor; }
    int eventsFd() const { return m_events.fd(); }

    /// On the main thread.
    void answer(const Message& request)
    {
        allowProcessorTime(m_processor_time_s);
        switch (request.kind) {
        case Kind::Describe:
            return describeBundle(json::parse(request.body));
        case Kind::Load:
            return load(json::parse(request.body));
        case Kind::Start:
            return start(request.body);
        case Kind::State:
            return m_processor ? done(m_processor->state()) : failed(notStarted());
        case Kind::Stop:
            m_processor.reset();
            return done({});
        default:
            return failed({Phase::Run, Cause::InvalidDescription, "an answer where a request belongs"});
        }
    }

    /// On the main thread: what the processor has said meanwhile.
    void tellEvents()
    {
        for (const Event& event : m_events.take())
            send(worker_control_fd, Kind::Told, &event, sizeof event);
    }

private:
    static void done(const std::string& body) { answerDone(worker_control_fd, body); }
    static void failed(const Fault& fault) { answerFailed(worker_control_fd, fault); }
    static Fault notStarted() { return {Phase::Run, Cause::InvalidDescription, "nothing is started"}; }

    /// Before the first third-party code: for good, so that the permissions of later ones change nothing.
    Result<void> enterCageOnce(const Permissions& permissions, std::vector<std::filesystem::path> readable)
    {
        if (m_caged)
            return {};
        const char* folder = std::getenv(worker_folder_variable);
        for (const auto& format : formats())
            std::ranges::copy(foldersOf(*format), std::back_inserter(readable));
        if (auto entered = enterCage(m_block, {folder ? folder : "", std::move(readable), permissions});
            !entered)
            return entered;
        m_caged = true;
        // Threads inherit the cage of the one that starts them.
        watchParent();
        std::thread([this] { serveSound(); }).detach();
        return {};
    }

    static Fault unprotected(const Error& why) { return {Phase::Load, Cause::Unprotected, why.text}; }

    const HostedFormat* formatNamed(const std::string& key) const
    {
        const auto found = std::ranges::find_if(m_formats, [&](const auto& f) { return f->key() == key; });
        return found == m_formats.end() ? nullptr : found->get();
    }

    void describeBundle(const json& request)
    {
        const std::filesystem::path bundle = pathFrom(request.at("bundle"));
        if (auto caged = enterCageOnce({}, {folderOf(bundle)}); !caged)
            return failed(unprotected(caged.error()));
        const HostedFormat* format = formatNamed(request.at("format"));
        if (!format)
            return failed({Phase::Read, Cause::UnsupportedFeature, "its format is not hosted"});
        auto contents = format->describe(bundle);
        if (!contents)
            return failed(contents.error());
        done(dumped(toJson(*contents)));
    }

    /// A library alone may have what it needs beside it.
    static std::filesystem::path folderOf(const std::filesystem::path& bundle)
    {
        std::error_code ignored;
        return std::filesystem::is_directory(bundle, ignored) ? bundle : bundle.parent_path();
    }

    FaultOr<std::unique_ptr<processors::Processor>> loadOne(const Location& location) const
    {
        if (processors::isReferenceId(location.id)) {
            auto made = processors::makeReference(location.id);
            if (!made)
                return fault(Phase::Load, Cause::MissingSymbol, "no such reference");
            return made;
        }
        const HostedFormat* format = formatNamed(location.id.substr(0, location.id.find(':')));
        if (!format)
            return fault(Phase::Load, Cause::UnsupportedFeature, "its format is not hosted");
        return format->load(location.bundle, location.id);
    }

    void load(const json& request)
    {
        Location location = locationFromJson(request);
        m_processor_time_s = request.at("processor_time_s");
        allowProcessorTime(m_processor_time_s);
        std::vector<std::filesystem::path> readable;
        if (!location.isChain())
            readable.push_back(folderOf(location.bundle));
        for (const StagePlace& stage : location.stages)
            if (!stage.bundle.empty())
                readable.push_back(folderOf(stage.bundle));
        if (auto caged = enterCageOnce(permissionsOf(location), std::move(readable)); !caged)
            return failed(unprotected(caged.error()));
        LoadedStages kept = takeStages(std::exchange(m_processor, nullptr), m_location);
        m_location = std::move(location);
        auto loaded = assemble(
            m_location, request.at("stereo") ? Channels::Stereo : Channels::Own,
            [this](const Location& one) { return loadOne(one); }, {&m_block.running, m_block.stage_gains_db},
            std::move(kept));
        if (!loaded)
            return failed(loaded.error());
        m_processor = std::move(*loaded);
        m_processor->setEvents(&m_events);
        done(dumped(processors::toJson(m_processor->info())));
    }

    void start(const std::string& body)
    {
        const auto split = std::min(body.find('\0'), body.size());
        const json request = json::parse(body.substr(0, split));
        processors::PlayConditions conditions{request.at("rate"), request.at("block"), request.at("tempo"),
                                              request.at("may_keep")};
        m_block_frames = conditions.block_frames =
            std::clamp<std::size_t>(conditions.block_frames, 1, stretch_frames);
        const std::vector<double> values = request.at("values");
        if (!m_processor || values.size() != m_processor->info().parameters.size())
            return failed(
                {Phase::Start, Cause::InvalidDescription, "its parameters changed after it was described"});
        for (std::size_t i = 0; i < values.size(); ++i)
            m_processor->setParameter(i, values[i]);
        m_processor->setState(split < body.size() ? body.substr(split + 1) : "");
        if (auto ready = m_processor->prepare(conditions); !ready)
            return failed({Phase::Start, Cause::UnsupportedFeature, ready.error().text});
        answerRan(worker_control_fd);
    }

    // --- the sound thread ---

    void serveSound()
    {
        Message request;
        while (receive(worker_sound_fd, request, std::nullopt) == Reception::Message)
            run(request);
    }

    void run(const Message& message)
    {
        RunRequest request;
        const std::string& body = message.body;
        if (message.kind != Kind::Run || !m_processor || body.size() < sizeof request)
            return answerFailed(worker_sound_fd, notStarted());
        allowProcessorTime(m_processor_time_s);
        std::memcpy(&request, body.data(), sizeof request);
        const std::size_t parameters = m_processor->info().parameters.size();
        if (request.frames > stretch_frames ||
            body.size() != sizeof request + request.changes * sizeof(ParameterChange))
            return answerFailed(worker_sound_fd,
                                {Phase::Run, Cause::InvalidDescription, "the request is not whole"});
        for (std::uint32_t i = 0; i < request.changes; ++i) {
            ParameterChange change;
            std::memcpy(&change, body.data() + sizeof request + i * sizeof change, sizeof change);
            if (change.index < parameters)
                m_processor->setParameter(change.index, static_cast<double>(change.value));
            else if (change.index == tempo_index)
                m_processor->setTempo(static_cast<double>(change.value));
        }
        runBlocks(request.frames);
        answerRan(worker_sound_fd);
    }

    void runBlocks(std::size_t frames)
    {
        std::array<const float*, most_channels> in{};
        std::array<float*, most_channels> out{};
        for (std::size_t first = 0; first < frames; first += m_block_frames) {
            for (std::size_t c = 0; c < most_channels; ++c) {
                in[c] = m_block.in[c].data() + first;
                out[c] = m_block.out[c].data() + first;
            }
            flushDenormals();
            const std::size_t count = std::min(m_block_frames, frames - first);
            const auto begun = std::chrono::steady_clock::now();
            m_processor->process(in.data(), out.data(), count);
            m_block.block_ns[first / m_block_frames] = nanosecondsSince(begun);
            m_block.blocks_done.fetch_add(1, std::memory_order_relaxed);
        }
    }

    void answerRan(int to) const
    {
        const Ran ran{static_cast<std::uint32_t>(m_processor->latencySamples())};
        send(to, Kind::Done, &ran, sizeof ran);
    }

    SharedBlock& m_block;
    const HostedFormats m_formats;
    EventQueue m_events;
    bool m_caged = false;
    Location m_location;
    std::unique_ptr<processors::Processor> m_processor;
    std::size_t m_block_frames = 256;
    rlim_t m_processor_time_s = 60;
};

} // namespace

int serve(HostedFormats formats, std::chrono::milliseconds idle_limit)
{
    prctl(PR_SET_PDEATHSIG, SIGKILL, 0, 0, 0);
    void* mapped = mmap(nullptr, sizeof(SharedBlock), PROT_READ | PROT_WRITE, MAP_SHARED, worker_block_fd, 0);
    if (mapped == MAP_FAILED)
        return 1;
    limitThisProcess();
    Server server(*static_cast<SharedBlock*>(mapped), std::move(formats));
    Message request;
    for (;;) {
        std::array<pollfd, 2> waiting{{{worker_control_fd, POLLIN, 0}, {server.eventsFd(), POLLIN, 0}}};
        const int ready =
            poll(waiting.data(), waiting.size(), server.isIdle() ? static_cast<int>(idle_limit.count()) : -1);
        if (ready < 0)
            continue; // a signal of the plug-in's
        if (ready == 0)
            break;
        if (waiting[1].revents != 0)
            server.tellEvents();
        if (waiting[0].revents == 0)
            continue;
        if (receive(worker_control_fd, request, std::nullopt) != Reception::Message)
            break;
        server.answer(request);
    }
    endAll(); // whatever a plug-in forked is in our group and goes with us
    return 0;
}

} // namespace hr::hosting::inside

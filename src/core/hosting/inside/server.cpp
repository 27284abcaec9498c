// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/inside/server.h"

#include "hosting/assemble.h"
#include "hosting/inside/cage.h"
#include "hosting/inside/ladspa_plugin.h"
#include "hosting/inside/lv2_plugin.h"
#include "hosting/inside/lv2_presets.h"
#include "hosting/inside/lv2_world.h"
#include "hosting/location_json.h"
#include "hosting/path_text.h"
#include "hosting/wire.h"
#include "processors/description_json.h"
#include "processors/reference/registry.h"

#include <algorithm>
#include <csignal>
#include <cstdlib>
#include <cstring>
#include <new>
#include <poll.h>
#include <sys/mman.h>
#include <sys/resource.h>
#include <thread>
#include <unistd.h>

namespace hr::hosting::inside {

namespace {

using nlohmann::json;
using nlohmann::ordered_json;

constexpr rlim_t memory_limit_bytes = rlim_t{2} << 30;
constexpr rlim_t file_limit_bytes = rlim_t{64} << 20; // prints, and whatever a plug-in writes

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

/// Ends this process and its children as soon as the other side is gone, even while a plug-in hangs.
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

class Server {
public:
    explicit Server(SharedBlock& block) : m_block(block) {}

    bool isIdle() const { return !m_processor; }

    void answer(const Message& request)
    {
        allowProcessorTime(m_processor_time_s);
        switch (request.kind) {
        case Kind::Describe:
            return describeBundle(json::parse(request.body));
        case Kind::Load:
            return load(json::parse(request.body));
        case Kind::Start:
            return start(json::parse(request.body));
        case Kind::Run:
            return run(request.body);
        case Kind::Stop:
            m_processor.reset();
            return done({});
        default:
            return failed({Phase::Run, Cause::InvalidDescription, "an answer where a request belongs"});
        }
    }

private:
    static void done(const std::string& body) { send(worker_control_fd, {Kind::Done, body}); }
    static void failed(const Fault& fault)
    {
        send(worker_control_fd,
             {Kind::Failed, toJson(fault).dump(-1, ' ', false, nlohmann::json::error_handler_t::replace)});
    }
    static ordered_json toJson(const Fault& fault)
    {
        return {{"stage", word(fault.phase)}, {"cause", word(fault.cause)}, {"detail", fault.detail}};
    }

    /// Before the first third-party code: for good, so that the permissions of later ones change nothing.
    void enterCageOnce(const Permissions& permissions)
    {
        if (std::exchange(m_caged, true))
            return;
        const char* folder = std::getenv(worker_folder_variable);
        enterCage(m_block, folder ? folder : "", permissions);
        watchParent(); // its thread is to be in the cage, too
    }

    void describeBundle(const json& request)
    {
        enterCageOnce({});
        const std::filesystem::path bundle = pathFrom(request.at("bundle"));
        BundleContents contents;
        if (isLadspaLibrary(bundle)) {
            auto described = describeLadspa(bundle);
            if (!described)
                return failed(described.error());
            contents = std::move(*described);
        } else {
            const World world = openBundle(bundle);
            contents = describeAll(world.get());
            contents.presets = presetsIn(world.get());
            if (contents.processors.empty() && contents.broken.empty() && contents.presets.empty() &&
                contents.left_out.empty() && !isTurtle(bundle / "manifest.ttl"))
                return failed({Phase::Read, Cause::InvalidDescription, "its manifest.ttl is not valid Turtle"});
        }
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
        // Names in bundles need not be valid UTF-8.
        done(answer.dump(-1, ' ', false, json::error_handler_t::replace));
    }

    static FaultOr<std::unique_ptr<processors::Processor>> loadOne(const Location& location)
    {
        if (processors::isReferenceId(location.id)) {
            auto made = processors::makeReference(location.id);
            if (!made)
                return fault(Phase::Load, Cause::MissingSymbol, "no such reference");
            return made;
        }
        if (location.id.starts_with("ladspa:"))
            return loadLadspa(location.bundle, location.id.substr(location.id.rfind(':') + 1));
        return loadLv2(location.bundle, location.id.substr(location.id.find(':') + 1), location.preset);
    }

    void load(const json& request)
    {
        m_location = locationFromJson(request);
        m_processor_time_s = request.at("processor_time_s");
        allowProcessorTime(m_processor_time_s);
        m_processor.reset();
        enterCageOnce(permissionsOf(m_location));
        auto loaded = assemble(m_location, request.at("stereo") ? Channels::Stereo : Channels::Own, loadOne,
                               &m_block.running);
        if (!loaded)
            return failed(loaded.error());
        m_processor = std::move(*loaded);
        done(processors::toJson(m_processor->info()).dump(-1, ' ', false, json::error_handler_t::replace));
    }

    void start(const json& request)
    {
        const processors::PlayConditions conditions{request.at("rate"), request.at("block"),
                                                    request.at("tempo")};
        m_block_frames = std::clamp<std::size_t>(conditions.block_frames, 1, stretch_frames);
        const std::vector<double> values = request.at("values");
        if (!m_processor || values.size() != m_processor->info().parameters.size())
            return failed(
                {Phase::Start, Cause::InvalidDescription, "its parameters changed after it was described"});
        for (std::size_t i = 0; i < values.size(); ++i)
            m_processor->setParameter(i, values[i]);
        if (auto ready =
                m_processor->prepare({conditions.sample_rate_hz, m_block_frames, conditions.tempo_bpm});
            !ready)
            return failed({Phase::Start, Cause::UnsupportedFeature, ready.error().text});
        answerRan();
    }

    void run(const std::string& body)
    {
        RunRequest request;
        if (!m_processor || body.size() < sizeof request)
            return failed({Phase::Run, Cause::InvalidDescription, "nothing is started"});
        std::memcpy(&request, body.data(), sizeof request);
        const std::size_t parameters = m_processor->info().parameters.size();
        if (request.frames > stretch_frames ||
            body.size() != sizeof request + request.changes * sizeof(ParameterChange))
            return failed({Phase::Run, Cause::InvalidDescription, "the request is not whole"});
        for (std::uint32_t i = 0; i < request.changes; ++i) {
            ParameterChange change;
            std::memcpy(&change, body.data() + sizeof request + i * sizeof change, sizeof change);
            if (change.index < parameters)
                m_processor->setParameter(change.index, static_cast<double>(change.value));
            else if (change.index == tempo_index)
                m_processor->setTempo(static_cast<double>(change.value));
        }
        runBlocks(request.frames);
        answerRan();
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

    void answerRan() const
    {
        const Ran ran{static_cast<std::uint32_t>(m_processor->latencySamples())};
        send(worker_control_fd, Kind::Done, &ran, sizeof ran);
    }

    SharedBlock& m_block;
    bool m_caged = false;
    Location m_location;
    std::unique_ptr<processors::Processor> m_processor;
    std::size_t m_block_frames = 256;
    rlim_t m_processor_time_s = 60;
};

} // namespace

int serve(std::chrono::milliseconds idle_limit)
{
    void* mapped = mmap(nullptr, sizeof(SharedBlock), PROT_READ | PROT_WRITE, MAP_SHARED, worker_block_fd, 0);
    if (mapped == MAP_FAILED)
        return 1;
    limitThisProcess();
    Server server(*static_cast<SharedBlock*>(mapped));
    Message request;
    const auto patience = [&] { return server.isIdle() ? std::optional(idle_limit) : std::nullopt; };
    while (receive(worker_control_fd, request, patience()) == Reception::Message)
        server.answer(request);
    endAll(); // whatever a plug-in forked is in our group and goes with us
    return 0;
}

} // namespace hr::hosting::inside

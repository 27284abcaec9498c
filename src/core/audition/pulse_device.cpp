// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/pulse_device.h"

#include "audition/input_device.h"
#include "hosting/thread_priority.h"

#include <algorithm>
#include <atomic>
#include <chrono>
#include <pulse/pulseaudio.h>
#include <thread>
#include <utility>

namespace hr::audition {

namespace {

using namespace std::chrono_literals;

constexpr auto patience = 2s; // with a server that does not answer
/// What the server keeps of ours: left to itself it is two seconds, and so long would a switch take to be
/// heard.
constexpr std::uint32_t kept_us = 15000;
constexpr std::uint32_t asked_at_once_us = 5000;
constexpr auto timed = static_cast<pa_stream_flags_t>(PA_STREAM_ADJUST_LATENCY | PA_STREAM_AUTO_TIMING_UPDATE);

struct Sink {
    std::string name; // the server's own
    std::string description;
    double rate_hz = 0;
};

/// A thread that talks to the server. What libpulse calls back runs on it, with its lock held.
class Connection {
public:
    Connection() : m_loop(pa_threaded_mainloop_new())
    {
        m_context = pa_context_new(pa_threaded_mainloop_get_api(m_loop), "Honest Rack");
        pa_context_connect(m_context, nullptr, PA_CONTEXT_NOAUTOSPAWN, nullptr);
        pa_threaded_mainloop_start(m_loop);
    }
    ~Connection()
    {
        pa_threaded_mainloop_stop(m_loop);
        pa_context_disconnect(m_context);
        pa_context_unref(m_context);
        pa_threaded_mainloop_free(m_loop);
    }
    Connection(const Connection&) = delete;
    Connection& operator=(const Connection&) = delete;

    /// Runs `work` while nothing is called back.
    template<class Work>
    auto locked(Work work) const
    {
        pa_threaded_mainloop_lock(m_loop);
        auto result = work();
        pa_threaded_mainloop_unlock(m_loop);
        return result;
    }
    /// Whether `state` became `wanted` in time: a server that hangs must not hang us.
    template<class State>
    bool becomes(State wanted, auto state) const
    {
        const auto end = std::chrono::steady_clock::now() + patience;
        for (;; std::this_thread::sleep_for(2ms)) {
            const State now = locked(state);
            if (now == wanted || !isGoing(now) || std::chrono::steady_clock::now() > end)
                return now == wanted;
        }
    }
    bool isReady() const
    {
        return becomes(PA_CONTEXT_READY, [this] { return pa_context_get_state(m_context); });
    }
    bool finish(pa_operation* operation) const
    {
        const bool done =
            operation && becomes(PA_OPERATION_DONE, [&] { return pa_operation_get_state(operation); });
        if (operation)
            locked([&] {
                pa_operation_cancel(operation);
                pa_operation_unref(operation);
                return 0;
            });
        return done;
    }
    pa_context* context() const { return m_context; }
    /// Of what a stream plays or records, as the server tells it; 0 where it does not.
    std::size_t latencyFrames(pa_stream* stream, double rate_hz) const
    {
        pa_usec_t latency_us = 0;
        int is_negative = 0;
        const int failed = locked([&] { return pa_stream_get_latency(stream, &latency_us, &is_negative); });
        return failed != 0 || is_negative != 0
                   ? 0
                   : static_cast<std::size_t>(1e-6 * static_cast<double>(latency_us) * rate_hz);
    }

private:
    static bool isGoing(pa_context_state_t state) { return PA_CONTEXT_IS_GOOD(state); }
    static bool isGoing(pa_stream_state_t state) { return PA_STREAM_IS_GOOD(state); }
    static bool isGoing(pa_operation_state_t state) { return state == PA_OPERATION_RUNNING; }

    pa_threaded_mainloop* m_loop;
    pa_context* m_context = nullptr;
};

/// The default one first.
std::vector<Sink> sinksOf(const Connection& connection)
{
    struct Answers {
        std::vector<Sink> sinks;
        std::string usual;
    } answers;
    const auto oneSink = [](pa_context*, const pa_sink_info* info, int end, void* to) {
        if (end == 0 && info->sample_spec.channels >= 2)
            static_cast<Answers*>(to)->sinks.push_back(
                {info->name, info->description, static_cast<double>(info->sample_spec.rate)});
    };
    const auto server = [](pa_context*, const pa_server_info* info, void* to) {
        if (info && info->default_sink_name)
            static_cast<Answers*>(to)->usual = info->default_sink_name;
    };
    if (!connection.isReady() || !connection.finish(connection.locked([&] {
            return pa_context_get_sink_info_list(connection.context(), oneSink, &answers);
        })) ||
        !connection.finish(connection.locked(
            [&] { return pa_context_get_server_info(connection.context(), server, &answers); })))
        return {};
    std::stable_partition(answers.sinks.begin(), answers.sinks.end(),
                          [&](const Sink& sink) { return sink.name == answers.usual; });
    return answers.sinks;
}

class PulseDevice : public OutputDevice {
public:
    PulseDevice(std::unique_ptr<Connection> connection, Sink sink)
        : m_choice{"PulseAudio", sink.description}, m_sink(std::move(sink)), m_connection(std::move(connection))
    {
    }
    ~PulseDevice() override
    {
        if (m_stream)
            m_connection->locked([this] {
                pa_stream_set_write_callback(m_stream, nullptr, nullptr);
                pa_stream_set_underflow_callback(m_stream, nullptr, nullptr);
                pa_stream_set_state_callback(m_stream, nullptr, nullptr);
                pa_stream_disconnect(m_stream);
                pa_stream_unref(m_stream);
                return 0;
            });
    }
    PulseDevice(const PulseDevice&) = delete;
    PulseDevice& operator=(const PulseDevice&) = delete;

    const DeviceChoice& choice() const override { return m_choice; }
    double rateHz() const override { return m_sink.rate_hz; }
    std::size_t latencyFrames() const override { return m_connection->latencyFrames(m_stream, rateHz()); }
    std::size_t xruns() const override { return m_xruns.load(std::memory_order_relaxed); }
    bool isAlive() const override { return m_alive.load(std::memory_order_relaxed); }

    Result<void> start(RenderCallback render, std::function<void()> lost) override
    {
        m_render = std::move(render);
        m_lost = std::move(lost);
        const pa_sample_spec spec{PA_SAMPLE_FLOAT32NE, static_cast<std::uint32_t>(m_sink.rate_hz), 2};
        pa_buffer_attr kept{};
        kept.maxlength = kept.prebuf = kept.fragsize = static_cast<std::uint32_t>(-1); // as it likes
        kept.tlength = static_cast<std::uint32_t>(pa_usec_to_bytes(kept_us, &spec));
        kept.minreq = static_cast<std::uint32_t>(pa_usec_to_bytes(asked_at_once_us, &spec));
        const int refused = m_connection->locked([&] {
            m_stream = pa_stream_new(m_connection->context(), "audition", &spec, nullptr);
            if (!m_stream)
                return -1;
            pa_stream_set_write_callback(m_stream, wanted, this);
            pa_stream_set_underflow_callback(m_stream, missed, this);
            pa_stream_set_state_callback(m_stream, changed, this);
            return pa_stream_connect_playback(m_stream, m_sink.name.c_str(), &kept, timed, nullptr, nullptr);
        });
        if (refused == 0 &&
            m_connection->becomes(PA_STREAM_READY, [this] { return pa_stream_get_state(m_stream); }))
            return {};
        return machineFailed("PulseAudio cannot play on " + m_choice.name + ": choose another device.");
    }

private:
    static void wanted(pa_stream* stream, std::size_t bytes, void* self)
    {
        auto& device = *static_cast<PulseDevice*>(self);
        if (!std::exchange(device.m_promoted, true))
            hosting::requestRealtime(); // once, before anything is heard
        constexpr std::size_t frame_bytes = 2 * sizeof(float);
        while (bytes >= frame_bytes) {
            const std::size_t frames = std::min(bytes / frame_bytes, most_at_once);
            device.m_render(device.m_interleaved.data(), frames);
            if (pa_stream_write(stream, device.m_interleaved.data(), frames * frame_bytes, nullptr, 0,
                                PA_SEEK_RELATIVE) != 0)
                return;
            bytes -= frames * frame_bytes;
        }
    }

    static void changed(pa_stream* stream, void* self)
    {
        auto& device = *static_cast<PulseDevice*>(self);
        const bool ready = pa_stream_get_state(stream) == PA_STREAM_READY;
        if (device.m_alive.exchange(ready, std::memory_order_relaxed) && !ready)
            device.m_lost();
    }

    static void missed(pa_stream*, void* self)
    {
        static_cast<PulseDevice*>(self)->m_xruns.fetch_add(1, std::memory_order_relaxed);
    }

    DeviceChoice m_choice;
    Sink m_sink;
    RenderCallback m_render;
    std::function<void()> m_lost;
    std::vector<float> m_interleaved = std::vector<float>(2 * most_at_once);
    std::atomic<bool> m_alive{false}; // on the connection's thread
    bool m_promoted = false;          // on the connection's thread
    std::atomic<std::size_t> m_xruns{0};
    pa_stream* m_stream = nullptr;
    std::unique_ptr<Connection> m_connection; // last: ending it ends the callbacks
};

/// Microphones and lines, and what sinks play ("Monitor of …"); the default one first.
std::vector<Sink> inputsOf(const Connection& connection)
{
    struct Answers {
        std::vector<Sink> inputs;
        std::string usual;
    } answers;
    const auto one = [](pa_context*, const pa_source_info* info, int end, void* to) {
        if (end == 0)
            static_cast<Answers*>(to)->inputs.push_back(
                {info->name, info->description, static_cast<double>(info->sample_spec.rate)});
    };
    const auto server = [](pa_context*, const pa_server_info* info, void* to) {
        if (info && info->default_source_name)
            static_cast<Answers*>(to)->usual = info->default_source_name;
    };
    if (!connection.isReady() || !connection.finish(connection.locked([&] {
            return pa_context_get_source_info_list(connection.context(), one, &answers);
        })) ||
        !connection.finish(connection.locked(
            [&] { return pa_context_get_server_info(connection.context(), server, &answers); })))
        return {};
    std::stable_partition(answers.inputs.begin(), answers.inputs.end(),
                          [&](const Sink& input) { return input.name == answers.usual; });
    return answers.inputs;
}

class PulseInput : public InputDevice {
public:
    PulseInput(std::unique_ptr<Connection> connection, Sink input)
        : m_choice{"PulseAudio", input.description}, m_input(std::move(input)),
          m_connection(std::move(connection))
    {
    }
    ~PulseInput() override
    {
        if (m_stream)
            m_connection->locked([this] {
                pa_stream_set_read_callback(m_stream, nullptr, nullptr);
                pa_stream_set_state_callback(m_stream, nullptr, nullptr);
                pa_stream_disconnect(m_stream);
                pa_stream_unref(m_stream);
                return 0;
            });
    }
    PulseInput(const PulseInput&) = delete;
    PulseInput& operator=(const PulseInput&) = delete;

    const DeviceChoice& choice() const override { return m_choice; }
    double rateHz() const override { return m_input.rate_hz; }
    std::size_t latencyFrames() const override { return m_connection->latencyFrames(m_stream, rateHz()); }

    Result<void> start(CaptureCallback take, std::function<void()> lost) override
    {
        m_take = std::move(take);
        m_lost = std::move(lost);
        const pa_sample_spec spec{PA_SAMPLE_FLOAT32NE, static_cast<std::uint32_t>(m_input.rate_hz), 2};
        pa_buffer_attr kept{};
        kept.maxlength = kept.tlength = kept.prebuf = kept.minreq =
            static_cast<std::uint32_t>(-1); // as it likes
        kept.fragsize = static_cast<std::uint32_t>(pa_usec_to_bytes(asked_at_once_us, &spec));
        const int refused = m_connection->locked([&] {
            m_stream = pa_stream_new(m_connection->context(), "listening", &spec, nullptr);
            if (!m_stream)
                return -1;
            pa_stream_set_read_callback(m_stream, arrived, this);
            pa_stream_set_state_callback(m_stream, changed, this);
            return pa_stream_connect_record(m_stream, m_input.name.c_str(), &kept, timed);
        });
        if (refused == 0 &&
            m_connection->becomes(PA_STREAM_READY, [this] { return pa_stream_get_state(m_stream); }))
            return {};
        return machineFailed("PulseAudio does not let us listen at " + m_choice.name +
                             ": choose another input.");
    }

private:
    static void arrived(pa_stream* stream, std::size_t, void* self)
    {
        auto& device = *static_cast<PulseInput*>(self);
        const void* data = nullptr;
        std::size_t bytes = 0;
        while (pa_stream_readable_size(stream) > 0 && pa_stream_peek(stream, &data, &bytes) == 0 && bytes > 0) {
            if (data) // else a hole, of which nothing is known
                device.m_take(static_cast<const float*>(data), bytes / (2 * sizeof(float)));
            pa_stream_drop(stream);
        }
    }

    static void changed(pa_stream* stream, void* self)
    {
        auto& device = *static_cast<PulseInput*>(self);
        const bool ready = pa_stream_get_state(stream) == PA_STREAM_READY;
        if (std::exchange(device.m_alive, ready) && !ready)
            device.m_lost();
    }

    DeviceChoice m_choice;
    Sink m_input;
    CaptureCallback m_take;
    std::function<void()> m_lost;
    bool m_alive = false; // on the connection's thread
    pa_stream* m_stream = nullptr;
    std::unique_ptr<Connection> m_connection; // last: ending it ends the callbacks
};

} // namespace

std::vector<DeviceChoice> pulseDevices()
{
    std::vector<DeviceChoice> choices;
    for (Sink& sink : sinksOf(Connection()))
        choices.push_back({"PulseAudio", std::move(sink.description)});
    return choices;
}

Result<std::unique_ptr<OutputDevice>> openPulse(const std::string& name)
{
    auto connection = std::make_unique<Connection>();
    if (!connection->isReady())
        return machineFailed("PulseAudio does not answer: is its server running?");
    const auto sinks = sinksOf(*connection);
    const auto found = name.empty() ? sinks.begin() : std::ranges::find(sinks, name, &Sink::description);
    if (found == sinks.end())
        return machineFailed("PulseAudio offers no stereo output" + (name.empty() ? "" : " named " + name) +
                             ": choose another device.");
    return std::make_unique<PulseDevice>(std::move(connection), *found);
}

std::vector<DeviceChoice> pulseInputs()
{
    std::vector<DeviceChoice> choices;
    for (Sink& input : inputsOf(Connection()))
        choices.push_back({"PulseAudio", std::move(input.description)});
    return choices;
}

Result<std::unique_ptr<InputDevice>> openPulseInput(const std::string& name, double rate_hz)
{
    auto connection = std::make_unique<Connection>();
    if (!connection->isReady())
        return machineFailed("PulseAudio does not answer: is its server running?");
    auto inputs = inputsOf(*connection);
    const auto found = name.empty() ? inputs.begin() : std::ranges::find(inputs, name, &Sink::description);
    if (found == inputs.end())
        return machineFailed("PulseAudio has no input" + (name.empty() ? "" : " named " + name) +
                             ": choose another.");
    if (rate_hz > 0)
        found->rate_hz = rate_hz;
    return std::make_unique<PulseInput>(std::move(connection), *found);
}

} // namespace hr::audition

// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/jack_device.h"

#include "hosting/pace.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <chrono>
#include <condition_variable>
#include <jack/jack.h>
#include <mutex>
#include <pthread.h>
#include <thread>

namespace hr::audition {

namespace {

struct CloseClient {
    void operator()(jack_client_t* client) const { jack_client_close(client); }
};
using Client = std::unique_ptr<jack_client_t, CloseClient>;

/// libjack maps the shared memory of its server once for the whole process. A client of a server that has died
/// is to be closed before one of the server that follows is opened: closed later, it takes the other's with it.
std::atomic<int> dead_clients{0};
constexpr auto look_again = std::chrono::milliseconds(10);
constexpr int most_looks = 300;

/// Those that only look around are closed before the next is opened, too.
std::mutex one_at_a_time;

/// One that is being opened on a thread of its own, since libjack may wait for ever: its database in shared
/// memory stays locked where a program that held it was killed.
struct JackOpening {
    std::mutex mutex;
    std::condition_variable opened;
    bool done = false;
    bool given_up = false;
    jack_client_t* client = nullptr;
};
std::atomic<bool> is_stuck{false}; // the last one still waits: another would wait as well
constexpr auto longest_opening = std::chrono::seconds(5);

void openInItsOwnTime(const std::shared_ptr<JackOpening>& opening)
{
    jack_client_t* const client = jack_client_open("Honest Rack", JackNoStartServer, nullptr);
    const std::lock_guard lock(opening->mutex);
    opening->done = true;
    if (opening->given_up) {
        if (client)
            jack_client_close(client);
        is_stuck = false;
    } else
        opening->client = client;
    opening->opened.notify_all();
}

Client openClient()
{
    for (int look = 0; dead_clients > 0; ++look) {
        if (look == most_looks)
            return nullptr;
        std::this_thread::sleep_for(look_again);
    }
    if (is_stuck)
        return nullptr;
    // It prints by default, which belongs to the caller.
    jack_set_error_function([](const char*) {});
    jack_set_info_function([](const char*) {});
    const auto opening = std::make_shared<JackOpening>();
    std::thread(openInItsOwnTime, opening).detach();
    std::unique_lock lock(opening->mutex);
    if (!opening->opened.wait_for(lock, longest_opening, [&opening] { return opening->done; })) {
        opening->given_up = true;
        is_stuck = true;
    }
    return Client(opening->client);
}

/// Every physical input, as "client:port", in the server's order.
std::vector<std::string> physicalInputs(jack_client_t* client)
{
    std::vector<std::string> inputs;
    const char** const ports =
        jack_get_ports(client, nullptr, JACK_DEFAULT_AUDIO_TYPE, JackPortIsInput | JackPortIsPhysical);
    for (const char** port = ports; port && *port; ++port)
        inputs.emplace_back(*port);
    jack_free(ports);
    return inputs;
}

std::string clientOf(const std::string& port)
{
    return port.substr(0, port.find(':'));
}

/// Names of clients with two inputs or more.
std::vector<std::string> stereoClients(const std::vector<std::string>& inputs)
{
    std::vector<std::string> names;
    for (const std::string& input : inputs) {
        const std::string name = clientOf(input);
        const auto same = [&](const std::string& other) { return clientOf(other) == name; };
        if (std::ranges::count_if(inputs, same) >= 2 && std::ranges::find(names, name) == names.end())
            names.push_back(name);
    }
    return names;
}

class JackDevice : public OutputDevice {
public:
    JackDevice(Client client, std::string name)
        : m_choice{"JACK", std::move(name)}, m_rate_hz(jack_get_sample_rate(client.get())),
          m_client(std::move(client))
    {
    }

    ~JackDevice() override
    {
        m_client.reset(); // ends the callbacks
        if (!m_alive)
            --dead_clients;
    }

    const DeviceChoice& choice() const override { return m_choice; }
    double rateHz() const override { return m_rate_hz; }
    bool isAlive() const override { return m_alive.load(std::memory_order_relaxed); }
    std::size_t xruns() const override { return m_xruns.load(std::memory_order_relaxed); }

    Result<void> start(RenderCallback render, std::function<void()> lost) override
    {
        m_render = std::move(render);
        m_lost = std::move(lost);
        jack_client_t* const client = m_client.get();
        jack_set_thread_init_callback(
            client, [](void*) { hosting::keepDeadlines(); }, nullptr);
        jack_set_process_callback(client, process, this);
        jack_set_xrun_callback(client, missed, this);
        jack_on_shutdown(client, died, this);
        for (std::size_t side = 0; side < m_ports.size(); ++side)
            m_ports[side] = jack_port_register(client, side == 0 ? "left" : "right", JACK_DEFAULT_AUDIO_TYPE,
                                               JackPortIsOutput | JackPortIsTerminal, 0);
        if (!m_ports[0] || !m_ports[1] || jack_activate(client) != 0)
            return machineFailed("JACK does not let us play on " + m_choice.name + ": choose another device.");
        std::size_t side = 0;
        for (const std::string& input : physicalInputs(client))
            if (clientOf(input) == m_choice.name && side < m_ports.size())
                (void)jack_connect(client, jack_port_name(m_ports[side++]), input.c_str());
        return {};
    }

private:
    /// JACK ends its thread by an asynchronous cancellation, which would go off in the middle of our code: it
    /// is put off to the end. (Setting the state makes no system call.)
    static int process(jack_nframes_t frames, void* self)
    {
        int before = 0;
        pthread_setcancelstate(PTHREAD_CANCEL_DISABLE, &before);
        static_cast<JackDevice*>(self)->play(frames);
        pthread_setcancelstate(before, nullptr);
        return 0;
    }

    void play(std::size_t frames)
    {
        auto* const left =
            static_cast<float*>(jack_port_get_buffer(m_ports[0], static_cast<jack_nframes_t>(frames)));
        auto* const right =
            static_cast<float*>(jack_port_get_buffer(m_ports[1], static_cast<jack_nframes_t>(frames)));
        for (std::size_t first = 0; first < frames; first += most_at_once) {
            const std::size_t count = std::min(most_at_once, frames - first);
            m_render(m_interleaved.data(), count);
            for (std::size_t i = 0; i < count; ++i) {
                left[first + i] = m_interleaved[2 * i];
                right[first + i] = m_interleaved[2 * i + 1];
            }
        }
    }

    static int missed(void* self)
    {
        static_cast<JackDevice*>(self)->m_xruns.fetch_add(1, std::memory_order_relaxed);
        return 0;
    }

    /// Called on one of JACK's threads, which ends soon after this and must not be cancelled on its way:
    /// closing the client waits for it.
    static void died(void* self)
    {
        pthread_setcancelstate(PTHREAD_CANCEL_DISABLE, nullptr);
        auto& device = *static_cast<JackDevice*>(self);
        if (device.m_alive.exchange(false, std::memory_order_relaxed)) {
            ++dead_clients;
            device.m_lost();
        }
    }

    DeviceChoice m_choice;
    double m_rate_hz;
    RenderCallback m_render;
    std::function<void()> m_lost;
    std::array<jack_port_t*, 2> m_ports{};
    std::vector<float> m_interleaved = std::vector<float>(2 * most_at_once);
    std::atomic<std::size_t> m_xruns{0};
    std::atomic<bool> m_alive{true};
    Client m_client;
};

} // namespace

std::vector<DeviceChoice> jackDevices()
{
    const std::lock_guard lock(one_at_a_time);
    std::vector<DeviceChoice> choices;
    if (const Client client = openClient())
        for (std::string& name : stereoClients(physicalInputs(client.get())))
            choices.push_back({"JACK", std::move(name)});
    return choices;
}

Result<std::unique_ptr<OutputDevice>> openJack(const std::string& name)
{
    const std::lock_guard lock(one_at_a_time);
    Client client = openClient();
    if (!client)
        return machineFailed(
            "JACK does not answer: is its server running? After a program was killed that used it, end "
            "every program that uses JACK, and start its server again.");
    const auto names = stereoClients(physicalInputs(client.get()));
    const auto found = name.empty() ? names.begin() : std::ranges::find(names, name);
    if (found == names.end())
        return machineFailed("JACK offers no stereo output" + (name.empty() ? "" : " named " + name) +
                             ": choose another device.");
    return std::make_unique<JackDevice>(std::move(client), *found);
}

} // namespace hr::audition

// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/jack_device.h"

#include "hosting/thread_priority.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <chrono>
#include <condition_variable>
#include <jack/jack.h>
#include <mutex>
#include <optional>
#include <pthread.h>
#include <thread>
#include <utility>

namespace hr::audition {

namespace {

/// One client, and whether its server has died.
///
/// Opening a client after the server has died makes libjack close and delete all that the process still has;
/// closing one of those once more would crash. So every client's server is asked for a sign of life before
/// another is opened (its death may be a moment old, and not be told yet), and dead clients are closed first.
/// One whose death is learnt only while another is being opened is left alone: libjack may have deleted it, and
/// a leak is better than a crash.
class Client {
public:
    struct Watch {
        std::mutex mutex;
        bool is_dead = false;
        bool is_left_alone = false;
        std::mutex asking;               ///< held while its server is asked for a sign of life
        jack_client_t* client = nullptr; ///< null once it is being closed; under `asking`
        std::function<void()> lost;      ///< told once, from one of JACK's threads
    };

    explicit Client(jack_client_t* client) : m_client(client)
    {
        const std::lock_guard lock(watches_mutex);
        m_watch->client = client;
        watches.push_back(m_watch);
        jack_on_shutdown(client, toldOfDeath, m_watch.get());
    }
    Client(Client&&) = default;
    Client& operator=(Client&&) = delete;
    ~Client()
    {
        if (!m_watch)
            return; // it has moved on
        {
            const std::lock_guard lock(m_watch->asking);
            m_watch->client = nullptr;
        }
        const auto is_left_alone = [this] {
            const std::lock_guard lock(m_watch->mutex);
            return m_watch->is_left_alone;
        };
        if (!is_left_alone())
            jack_client_close(m_client); // ends the callbacks
        const std::lock_guard lock(watches_mutex);
        if (is_left_alone())
            kept_for_ever.push_back(m_watch); // libjack may still tell it
        std::erase(watches, m_watch);
    }

    jack_client_t* get() const { return m_client; }

    bool isDead() const
    {
        const std::lock_guard lock(m_watch->mutex);
        return m_watch->is_dead;
    }
    /// False where it is dead already.
    bool whenLost(std::function<void()> lost)
    {
        const std::lock_guard lock(m_watch->mutex);
        m_watch->lost = std::move(lost);
        return !m_watch->is_dead;
    }

    static bool anyIsDead() { return !thatAreDead().empty(); }
    static std::vector<std::shared_ptr<Watch>> thatAreDead()
    {
        const std::lock_guard lock(watches_mutex);
        std::vector<std::shared_ptr<Watch>> dead;
        for (const auto& watch : watches) {
            const std::lock_guard one(watch->mutex);
            if (watch->is_dead)
                dead.push_back(watch);
        }
        return dead;
    }
    /// Marks those as dead whose server no longer answers.
    static void askForSignsOfLife()
    {
        std::vector<std::shared_ptr<Watch>> all;
        {
            const std::lock_guard lock(watches_mutex);
            all = watches;
        }
        for (const auto& watch : all) {
            const std::lock_guard asking(watch->asking);
            if (!watch->client)
                continue;
            char* const answer =
                jack_get_uuid_for_client_name(watch->client, jack_get_client_name(watch->client));
            jack_free(answer);
            if (!answer)
                died(watch.get());
        }
    }
    static void leaveAlone(const std::vector<std::shared_ptr<Watch>>& dead)
    {
        for (const auto& watch : dead) {
            const std::lock_guard one(watch->mutex);
            watch->is_left_alone = true;
        }
    }

private:
    /// Called on one of JACK's threads, which ends soon after this and must not be cancelled on its way:
    /// closing the client waits for it.
    static void toldOfDeath(void* of)
    {
        pthread_setcancelstate(PTHREAD_CANCEL_DISABLE, nullptr);
        died(of);
    }

    static void died(void* of)
    {
        auto& watch = *static_cast<Watch*>(of);
        std::function<void()> lost;
        {
            const std::lock_guard lock(watch.mutex);
            if (!std::exchange(watch.is_dead, true))
                lost = watch.lost;
        }
        if (lost)
            lost();
    }

    static inline std::mutex watches_mutex;
    static inline std::vector<std::shared_ptr<Watch>> watches; // of all clients there are
    static inline std::vector<std::shared_ptr<Watch>> kept_for_ever;

    jack_client_t* m_client = nullptr;
    std::shared_ptr<Watch> m_watch = std::make_shared<Watch>();
};

/// One at a time, those that only look around included.
std::mutex opening_mutex;

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
constexpr auto longest_burial = std::chrono::seconds(3);

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

/// Empty where JACK does not answer, or somebody does not let go of a client that is dead.
std::optional<Client> openClient()
{
    Client::askForSignsOfLife();
    const auto until = std::chrono::steady_clock::now() + longest_burial;
    while (Client::anyIsDead()) {
        if (std::chrono::steady_clock::now() > until)
            return std::nullopt;
        std::this_thread::sleep_for(std::chrono::milliseconds(10));
    }
    if (is_stuck)
        return std::nullopt;
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
    Client::leaveAlone(Client::thatAreDead()); // since a moment ago
    return opening->client ? std::optional<Client>(std::in_place, opening->client) : std::nullopt;
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

    const DeviceChoice& choice() const override { return m_choice; }
    double rateHz() const override { return m_rate_hz; }
    bool isAlive() const override { return !m_client.isDead(); }
    std::size_t xruns() const override { return m_xruns.load(std::memory_order_relaxed); }

    Result<void> start(RenderCallback render, std::function<void()> lost) override
    {
        m_render = std::move(render);
        if (!m_client.whenLost(std::move(lost)))
            return machineFailed("JACK has gone away meanwhile: choose another device.");
        jack_client_t* const client = m_client.get();
        jack_set_thread_init_callback(
            client, [](void*) { hosting::requestRealtime(); }, nullptr);
        jack_set_process_callback(client, process, this);
        jack_set_xrun_callback(client, missed, this);
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

    DeviceChoice m_choice;
    double m_rate_hz;
    RenderCallback m_render;
    std::array<jack_port_t*, 2> m_ports{};
    std::vector<float> m_interleaved = std::vector<float>(2 * most_at_once);
    std::atomic<std::size_t> m_xruns{0};
    Client m_client; // last: closing it ends the callbacks
};

} // namespace

std::vector<DeviceChoice> jackDevices()
{
    const std::lock_guard lock(opening_mutex);
    std::vector<DeviceChoice> choices;
    if (const auto client = openClient())
        for (std::string& name : stereoClients(physicalInputs(client->get())))
            choices.push_back({"JACK", std::move(name)});
    return choices;
}

Result<std::unique_ptr<OutputDevice>> openJack(const std::string& name)
{
    const std::lock_guard lock(opening_mutex);
    auto client = openClient();
    if (!client)
        return machineFailed(
            "JACK does not answer: is its server running? After a program was killed that used it, end "
            "every program that uses JACK, and start its server again.");
    const auto names = stereoClients(physicalInputs(client->get()));
    const auto found = name.empty() ? names.begin() : std::ranges::find(names, name);
    if (found == names.end())
        return machineFailed("JACK offers no stereo output" + (name.empty() ? "" : " named " + name) +
                             ": choose another device.");
    return std::make_unique<JackDevice>(std::move(*client), *found);
}

} // namespace hr::audition

// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/jack_client.h"

#include <atomic>
#include <chrono>
#include <condition_variable>
#include <thread>

namespace hr::audition {

namespace {

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

} // namespace

std::mutex& jackOpeningMutex()
{
    static std::mutex mutex;
    return mutex;
}

std::optional<JackClient> openJackClient()
{
    JackClient::askForSignsOfLife();
    const auto until = std::chrono::steady_clock::now() + longest_burial;
    while (JackClient::anyIsDead()) {
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
    JackClient::leaveAlone(JackClient::thatAreDead()); // since a moment ago
    return opening->client ? std::optional<JackClient>(std::in_place, opening->client) : std::nullopt;
}

std::string jackClientOf(const std::string& port)
{
    return port.substr(0, port.find(':'));
}

std::vector<std::string> jackPorts(jack_client_t* client, unsigned long flags)
{
    std::vector<std::string> names;
    const char** const ports = jack_get_ports(client, nullptr, JACK_DEFAULT_AUDIO_TYPE, flags);
    for (const char** port = ports; port && *port; ++port)
        names.emplace_back(*port);
    jack_free(ports);
    return names;
}

std::size_t jackLatency(jack_port_t* port, jack_latency_callback_mode_t mode)
{
    jack_latency_range_t range{0, 0};
    if (port)
        jack_port_get_latency_range(port, mode, &range);
    return range.max;
}

} // namespace hr::audition

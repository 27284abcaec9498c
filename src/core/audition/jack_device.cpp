// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/jack_device.h"

#include "audition/jack_client.h"
#include "hosting/thread_priority.h"

#include <algorithm>
#include <array>
#include <atomic>

namespace hr::audition {

namespace {

/// Every physical input.
std::vector<std::string> physicalInputs(jack_client_t* client)
{
    return jackPorts(client, JackPortIsInput | JackPortIsPhysical);
}

/// Names of clients with two inputs or more.
std::vector<std::string> stereoClients(const std::vector<std::string>& inputs)
{
    std::vector<std::string> names;
    for (const std::string& input : inputs) {
        const std::string name = jackClientOf(input);
        const auto same = [&](const std::string& other) { return jackClientOf(other) == name; };
        if (std::ranges::count_if(inputs, same) >= 2 && std::ranges::find(names, name) == names.end())
            names.push_back(name);
    }
    return names;
}

class JackDevice : public OutputDevice {
public:
    JackDevice(JackClient client, std::string name)
        : m_choice{"JACK", std::move(name)}, m_rate_hz(jack_get_sample_rate(client.get())),
          m_client(std::move(client))
    {
    }

    const DeviceChoice& choice() const override { return m_choice; }
    double rateHz() const override { return m_rate_hz; }
    std::size_t latencyFrames() const override { return jackLatency(m_ports[0], JackPlaybackLatency); }
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
            if (jackClientOf(input) == m_choice.name && side < m_ports.size())
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
    JackClient m_client; // last: closing it ends the callbacks
};

} // namespace

std::vector<DeviceChoice> jackDevices()
{
    const std::lock_guard lock(jackOpeningMutex());
    std::vector<DeviceChoice> choices;
    if (const auto client = openJackClient())
        for (std::string& name : stereoClients(physicalInputs(client->get())))
            choices.push_back({"JACK", std::move(name)});
    return choices;
}

Result<std::unique_ptr<OutputDevice>> openJack(const std::string& name)
{
    const std::lock_guard lock(jackOpeningMutex());
    auto client = openJackClient();
    if (!client)
        return machineFailed(jack_does_not_answer);
    const auto names = stereoClients(physicalInputs(client->get()));
    const auto found = name.empty() ? names.begin() : std::ranges::find(names, name);
    if (found == names.end())
        return machineFailed("JACK offers no stereo output" + (name.empty() ? "" : " named " + name) +
                             ": choose another device.");
    return std::make_unique<JackDevice>(std::move(*client), *found);
}

} // namespace hr::audition

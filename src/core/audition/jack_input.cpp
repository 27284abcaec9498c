// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/input_device.h"
#include "audition/jack_client.h"

#include <algorithm>
#include <array>

namespace hr::audition {

namespace {

constexpr const char* our_client = "Honest Rack";

class JackInput : public InputDevice {
public:
    JackInput(JackClient client, std::string name)
        : m_choice{"JACK", std::move(name)}, m_rate_hz(jack_get_sample_rate(client.get())),
          m_client(std::move(client))
    {
    }

    const DeviceChoice& choice() const override { return m_choice; }
    double rateHz() const override { return m_rate_hz; }
    std::size_t latencyFrames() const override { return jackLatency(m_ports[0], JackCaptureLatency); }

    Result<void> start(CaptureCallback take, std::function<void()> lost) override
    {
        m_take = std::move(take);
        if (!m_client.whenLost(std::move(lost)))
            return machineFailed("JACK has gone away meanwhile: choose another input.");
        jack_client_t* const client = m_client.get();
        jack_set_process_callback(client, process, this);
        for (std::size_t side = 0; side < m_ports.size(); ++side)
            m_ports[side] = jack_port_register(client, side == 0 ? "left in" : "right in",
                                               JACK_DEFAULT_AUDIO_TYPE, JackPortIsInput, 0);
        if (!m_ports[0] || !m_ports[1] || jack_activate(client) != 0)
            return machineFailed("JACK does not let us listen at " + m_choice.name + ": choose another input.");
        std::vector<std::string> outputs;
        for (const std::string& port : jackPorts(client, JackPortIsOutput))
            if (jackClientOf(port) == m_choice.name)
                outputs.push_back(port);
        if (outputs.empty())
            return machineFailed(m_choice.name + " puts nothing out any more: choose another input.");
        for (std::size_t side = 0; side < m_ports.size(); ++side) // one channel is heard on both sides
            (void)jack_connect(client, outputs[std::min(side, outputs.size() - 1)].c_str(),
                               jack_port_name(m_ports[side]));
        return {};
    }

private:
    /// As of what plays: JACK's cancellation of its thread is put off to the end.
    static int process(jack_nframes_t frames, void* self)
    {
        int before = 0;
        pthread_setcancelstate(PTHREAD_CANCEL_DISABLE, &before);
        static_cast<JackInput*>(self)->take(frames);
        pthread_setcancelstate(before, nullptr);
        return 0;
    }

    void take(jack_nframes_t frames)
    {
        const auto* const left = static_cast<const float*>(jack_port_get_buffer(m_ports[0], frames));
        const auto* const right = static_cast<const float*>(jack_port_get_buffer(m_ports[1], frames));
        for (std::size_t first = 0; first < frames; first += most_at_once) {
            const std::size_t count = std::min<std::size_t>(most_at_once, frames - first);
            for (std::size_t i = 0; i < count; ++i) {
                m_interleaved[2 * i] = left[first + i];
                m_interleaved[2 * i + 1] = right[first + i];
            }
            m_take(m_interleaved.data(), count);
        }
    }

    DeviceChoice m_choice;
    double m_rate_hz;
    CaptureCallback m_take;
    std::array<jack_port_t*, 2> m_ports{};
    std::vector<float> m_interleaved = std::vector<float>(2 * most_at_once);
    JackClient m_client; // last: closing it ends the callbacks
};

} // namespace

std::vector<DeviceChoice> jackInputs()
{
    const std::lock_guard lock(jackOpeningMutex());
    std::vector<DeviceChoice> choices;
    const auto client = openJackClient();
    if (!client)
        return choices;
    for (const std::string& port : jackPorts(client->get(), JackPortIsOutput)) {
        DeviceChoice choice{"JACK", jackClientOf(port)};
        if (!choice.name.starts_with(our_client) && std::ranges::find(choices, choice) == choices.end())
            choices.push_back(std::move(choice));
    }
    return choices;
}

Result<std::unique_ptr<InputDevice>> openJackInput(const std::string& name)
{
    const std::lock_guard lock(jackOpeningMutex());
    auto client = openJackClient();
    if (!client)
        return machineFailed(jack_does_not_answer);
    return std::make_unique<JackInput>(std::move(*client), name);
}

} // namespace hr::audition

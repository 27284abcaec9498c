// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/output_device.h"

#include "audition/alsa_device.h"
#include "audition/jack_device.h"
#include "audition/pulse_device.h"

#include <chrono>
#include <thread>

namespace hr::audition {

namespace {

constexpr double usual_rate_hz = 48000;
constexpr unsigned period_frames = 256;

/// Keeps time and is not heard.
class SilentDevice : public OutputDevice {
public:
    explicit SilentDevice(double rate_hz) : m_rate_hz(rate_hz) {}

    const DeviceChoice& choice() const override { return m_choice; }
    double rateHz() const override { return m_rate_hz; }
    std::size_t latencyFrames() const override { return 0; }
    bool isAlive() const override { return true; }
    std::size_t xruns() const override { return 0; } // nobody listens

    Result<void> start(RenderCallback render, std::function<void()>) override
    {
        m_thread = std::jthread([render = std::move(render), rate_hz = m_rate_hz](const std::stop_token& stop) {
            std::vector<float> buffer(std::size_t{2} * period_frames);
            const auto period = std::chrono::nanoseconds(static_cast<long>(1e9 * period_frames / rate_hz));
            auto next = std::chrono::steady_clock::now();
            while (!stop.stop_requested()) {
                render(buffer.data(), period_frames);
                next += period;
                std::this_thread::sleep_until(next);
            }
        });
        return {};
    }

private:
    double m_rate_hz;
    DeviceChoice m_choice{"silent", ""};
    std::jthread m_thread;
};

} // namespace

std::vector<DeviceChoice> availableDevices()
{
    std::vector<DeviceChoice> choices = jackDevices();
    for (const auto& others : {pulseDevices(), alsaDevices()})
        choices.insert(choices.end(), others.begin(), others.end());
    choices.push_back({"silent", ""});
    return choices;
}

Result<std::unique_ptr<OutputDevice>> openDevice(const DeviceChoice& choice)
{
    if (choice.system == "silent")
        return openSilentDevice(usual_rate_hz);
    if (choice.system == "JACK")
        return openJack(choice.name);
    if (choice.system == "PulseAudio")
        return openPulse(choice.name);
    if (choice.system == "ALSA")
        return openAlsa(choice.name);
    return wrongRequest("There is no audio system \"" + choice.system +
                        "\": choose JACK, PulseAudio, ALSA or silent.");
}

std::unique_ptr<OutputDevice> openSilentDevice(double rate_hz)
{
    return std::make_unique<SilentDevice>(rate_hz);
}

std::unique_ptr<OutputDevice> openBestDevice()
{
    for (const char* system : {"JACK", "PulseAudio", "ALSA"})
        if (auto device = openDevice({system, ""}))
            return std::move(*device);
    return openSilentDevice(usual_rate_hz);
}

} // namespace hr::audition

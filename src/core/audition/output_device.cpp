// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/output_device.h"

#include <array>
#include <atomic>
#include <chrono>
#include <rtaudio/RtAudio.h>
#include <thread>

namespace hr::audition {

namespace {

constexpr double silent_rate_hz = 48000;
constexpr unsigned period_frames = 256;

struct System {
    RtAudio::Api api;
    const char* name;
};
constexpr std::array<System, 3> systems{
    {{RtAudio::UNIX_JACK, "JACK"}, {RtAudio::LINUX_PULSE, "PulseAudio"}, {RtAudio::LINUX_ALSA, "ALSA"}}};

/// Keeps time and is not heard.
class SilentDevice : public OutputDevice {
public:
    const DeviceChoice& choice() const override { return m_choice; }
    double rateHz() const override { return silent_rate_hz; }
    bool isAlive() const override { return true; }

    Result<void> start(RenderCallback render) override
    {
        m_thread = std::jthread([render = std::move(render)](const std::stop_token& stop) {
            std::vector<float> buffer(std::size_t{2} * period_frames);
            const auto period =
                std::chrono::nanoseconds(static_cast<long>(1e9 * period_frames / silent_rate_hz));
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
    DeviceChoice m_choice{"silent", ""};
    std::jthread m_thread;
};

/// RtAudio reports errors by exceptions and text on standard error; both end here.
class ServerDevice : public OutputDevice {
public:
    ServerDevice(RtAudio::Api api, DeviceChoice choice) : m_choice(std::move(choice)), m_audio(api)
    {
        m_audio.showWarnings(false);
    }

    const DeviceChoice& choice() const override { return m_choice; }
    double rateHz() const override { return m_rate_hz; }
    bool isAlive() const override { return m_audio.isStreamOpen() && m_audio.isStreamRunning(); }

    bool findDevice()
    {
        for (unsigned i = 0; i < m_audio.getDeviceCount(); ++i) {
            const auto info = m_audio.getDeviceInfo(i);
            if (!info.probed || info.outputChannels < 2 ||
                (!m_choice.name.empty() && info.name != m_choice.name))
                continue;
            if (m_choice.name.empty() && !info.isDefaultOutput && i + 1 < m_audio.getDeviceCount())
                continue;
            m_device = i;
            m_choice.name = info.name;
            m_rate_hz = info.preferredSampleRate > 0 ? info.preferredSampleRate : silent_rate_hz;
            return true;
        }
        return false;
    }

    Result<void> start(RenderCallback render) override
    {
        m_render = std::move(render);
        RtAudio::StreamParameters output{m_device, 2, 0};
        RtAudio::StreamOptions options;
        options.streamName = "Honest Rack";
        unsigned frames = period_frames;
        try {
            m_audio.openStream(&output, nullptr, RTAUDIO_FLOAT32, static_cast<unsigned>(m_rate_hz), &frames,
                               callback, this, &options, [](RtAudioError::Type, const std::string&) {});
            m_audio.startStream();
        } catch (const RtAudioError& error) {
            return machineFailed(m_choice.system + " cannot play on " + m_choice.name + " (" +
                                 error.getMessage() + "): choose another device.");
        }
        return {};
    }

private:
    static int callback(void* out, void*, unsigned frames, double, RtAudioStreamStatus, void* self)
    {
        static_cast<ServerDevice*>(self)->m_render(static_cast<float*>(out), frames);
        return 0;
    }

    DeviceChoice m_choice;
    RenderCallback m_render;
    unsigned m_device = 0;
    double m_rate_hz = silent_rate_hz;
    RtAudio m_audio; // last: closing it ends the callbacks
};

Result<std::unique_ptr<OutputDevice>> openServer(const System& system, const DeviceChoice& choice)
{
    try {
        auto device = std::make_unique<ServerDevice>(system.api, choice);
        if (device->findDevice())
            return device;
    } catch (const RtAudioError& error) {
        return machineFailed(std::string(system.name) + " does not answer (" + error.getMessage() + ").");
    }
    return machineFailed(std::string(system.name) + " offers no stereo output" +
                         (choice.name.empty() ? "" : " named " + choice.name) + ": is its server running?");
}

} // namespace

std::vector<DeviceChoice> availableDevices()
{
    std::vector<DeviceChoice> choices;
    for (const System& system : systems) {
        try {
            RtAudio audio(system.api);
            audio.showWarnings(false);
            for (unsigned i = 0; i < audio.getDeviceCount(); ++i)
                if (const auto info = audio.getDeviceInfo(i); info.probed && info.outputChannels >= 2)
                    choices.push_back({system.name, info.name});
        } catch (const RtAudioError&) {
            continue; // that system is not here
        }
    }
    choices.push_back({"silent", ""});
    return choices;
}

Result<std::unique_ptr<OutputDevice>> openDevice(const DeviceChoice& choice)
{
    if (choice.system == "silent")
        return std::make_unique<SilentDevice>();
    for (const System& system : systems)
        if (choice.system == system.name)
            return openServer(system, choice);
    return wrongRequest("There is no audio system \"" + choice.system +
                        "\": choose JACK, PulseAudio, ALSA or silent.");
}

std::unique_ptr<OutputDevice> openBestDevice()
{
    for (const System& system : systems)
        if (auto device = openServer(system, {system.name, ""}))
            return std::move(*device);
    return std::make_unique<SilentDevice>();
}

} // namespace hr::audition

// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/alsa_device.h"

#include "audition/alsa_pcm.h"
#include "hosting/thread_priority.h"

#include <algorithm>
#include <atomic>
#include <thread>

namespace hr::audition {

namespace {

class AlsaDevice : public OutputDevice {
public:
    explicit AlsaDevice(AlsaPcm opened)
        : m_choice{"ALSA", std::move(opened.name)}, m_format(opened.format), m_pcm(std::move(opened.pcm))
    {
    }

    const DeviceChoice& choice() const override { return m_choice; }
    double rateHz() const override { return m_format.rate_hz; }
    std::size_t latencyFrames() const override { return m_format.buffer_frames; }
    bool isAlive() const override { return m_alive.load(std::memory_order_relaxed); }
    std::size_t xruns() const override { return m_xruns.load(std::memory_order_relaxed); }

    Result<void> start(RenderCallback render, std::function<void()> lost) override
    {
        m_thread = std::jthread(
            [this, render = std::move(render), lost = std::move(lost)](const std::stop_token& stop) {
                hosting::requestRealtime();
                play(render, stop);
                if (!isAlive())
                    lost();
            });
        return {};
    }

private:
    void play(const RenderCallback& render, const std::stop_token& stop)
    {
        std::vector<float> buffer(2 * m_format.period_frames);
        int idle = 0;
        while (!stop.stop_requested() && idle < AlsaPcm::most_idle_looks) {
            const int ready = snd_pcm_state(m_pcm.get()) == SND_PCM_STATE_RUNNING
                                  ? snd_pcm_wait(m_pcm.get(), AlsaPcm::look_ms)
                                  : 1;
            const snd_pcm_sframes_t space = ready < 0 ? ready : snd_pcm_avail_update(m_pcm.get());
            if (space < 0) {
                if (!recover(static_cast<int>(space)))
                    break;
                continue;
            }
            if (static_cast<snd_pcm_uframes_t>(space) < m_format.period_frames) {
                idle = ready == 0 ? idle + 1 : 0;
                // Full before it began: without this it would be asked again and again, before all other
                // threads.
                if (snd_pcm_state(m_pcm.get()) == SND_PCM_STATE_PREPARED && snd_pcm_start(m_pcm.get()) < 0)
                    break;
                continue;
            }
            idle = 0;
            render(buffer.data(), m_format.period_frames);
            if (!write(buffer, stop))
                break;
        }
        if (!stop.stop_requested())
            m_alive.store(false, std::memory_order_relaxed);
    }

    /// All of a period, though ALSA may take it in pieces. False where it cannot go on.
    bool write(const std::vector<float>& period, const std::stop_token& stop)
    {
        int idle = 0;
        for (snd_pcm_uframes_t done = 0; done < m_format.period_frames && !stop.stop_requested();) {
            const auto taken =
                snd_pcm_writei(m_pcm.get(), period.data() + 2 * done, m_format.period_frames - done);
            if (taken >= 0)
                done += static_cast<snd_pcm_uframes_t>(taken);
            else if (taken == -EAGAIN)
                idle += snd_pcm_wait(m_pcm.get(), AlsaPcm::look_ms) == 0 ? 1 : 0;
            else if (!recover(static_cast<int>(taken)))
                return false;
            if (idle == AlsaPcm::most_idle_looks)
                return false;
        }
        return true;
    }

    bool recover(int error)
    {
        if (error == -EPIPE)
            m_xruns.fetch_add(1, std::memory_order_relaxed);
        return snd_pcm_recover(m_pcm.get(), error, 1) >= 0;
    }

    DeviceChoice m_choice;
    AlsaPcm::Format m_format;
    std::atomic<std::size_t> m_xruns{0};
    std::atomic<bool> m_alive{true};
    AlsaPcm::Handle m_pcm;
    std::jthread m_thread; // last: it ends before what it uses
};

} // namespace

std::vector<DeviceChoice> alsaDevices()
{
    return alsaChoices("Input");
}

Result<std::unique_ptr<OutputDevice>> openAlsa(const std::string& name)
{
    return openAlsaPcm(name, SND_PCM_STREAM_PLAYBACK).map([](AlsaPcm opened) -> std::unique_ptr<OutputDevice> {
        return std::make_unique<AlsaDevice>(std::move(opened));
    });
}

} // namespace hr::audition

// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/alsa_device.h"

#include "hosting/thread_priority.h"

#include <algorithm>
#include <alsa/asoundlib.h>
#include <atomic>
#include <thread>

namespace hr::audition {

namespace {

constexpr unsigned preferred_rate_hz = 48000;
constexpr unsigned buffer_us = 15000; // what the hardware keeps of ours
constexpr unsigned period_us = 5000;
constexpr int look_ms = 100;
constexpr int most_idle_looks = 20; // it has stopped taking sound

/// ALSA prints its errors by default, which belongs to the caller.
void saysNothing(const char*, int, const char*, int, const char*, ...) {}

struct ClosePcm {
    void operator()(snd_pcm_t* pcm) const { snd_pcm_close(pcm); }
};
using Pcm = std::unique_ptr<snd_pcm_t, ClosePcm>;

struct FreeHwParams {
    void operator()(snd_pcm_hw_params_t* params) const { snd_pcm_hw_params_free(params); }
};

/// Of `pcm`, or zero where it does not play two channels of floating point.
struct Format {
    unsigned rate_hz = 0;
    snd_pcm_uframes_t period_frames = 0;
};

/// Sets `pcm` up; at its own rate, as nothing but soxr converts here.
Format prepare(snd_pcm_t* pcm)
{
    snd_pcm_hw_params_t* made = nullptr;
    snd_pcm_hw_params_malloc(&made);
    const std::unique_ptr<snd_pcm_hw_params_t, FreeHwParams> params(made);
    Format format{preferred_rate_hz, 0};
    unsigned kept = buffer_us;
    unsigned period = period_us;
    const bool good = snd_pcm_hw_params_any(pcm, params.get()) >= 0 &&
                      snd_pcm_hw_params_set_rate_resample(pcm, params.get(), 0) >= 0 &&
                      snd_pcm_hw_params_set_access(pcm, params.get(), SND_PCM_ACCESS_RW_INTERLEAVED) >= 0 &&
                      snd_pcm_hw_params_set_format(pcm, params.get(), SND_PCM_FORMAT_FLOAT) >= 0 &&
                      snd_pcm_hw_params_set_channels(pcm, params.get(), 2) >= 0 &&
                      snd_pcm_hw_params_set_rate_near(pcm, params.get(), &format.rate_hz, nullptr) >= 0 &&
                      snd_pcm_hw_params_set_period_time_near(pcm, params.get(), &period, nullptr) >= 0 &&
                      snd_pcm_hw_params_set_buffer_time_near(pcm, params.get(), &kept, nullptr) >= 0 &&
                      snd_pcm_hw_params(pcm, params.get()) >= 0 &&
                      snd_pcm_hw_params_get_period_size(params.get(), &format.period_frames, nullptr) >= 0;
    return good ? format : Format{};
}

class AlsaDevice : public OutputDevice {
public:
    AlsaDevice(Pcm pcm, std::string name, Format format)
        : m_choice{"ALSA", std::move(name)}, m_format(format), m_pcm(std::move(pcm))
    {
    }

    const DeviceChoice& choice() const override { return m_choice; }
    double rateHz() const override { return m_format.rate_hz; }
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
        while (!stop.stop_requested() && idle < most_idle_looks) {
            const int ready =
                snd_pcm_state(m_pcm.get()) == SND_PCM_STATE_RUNNING ? snd_pcm_wait(m_pcm.get(), look_ms) : 1;
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
                idle += snd_pcm_wait(m_pcm.get(), look_ms) == 0 ? 1 : 0;
            else if (!recover(static_cast<int>(taken)))
                return false;
            if (idle == most_idle_looks)
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
    Format m_format;
    std::atomic<std::size_t> m_xruns{0};
    std::atomic<bool> m_alive{true};
    Pcm m_pcm;
    std::jthread m_thread; // last: it ends before what it uses
};

} // namespace

std::vector<DeviceChoice> alsaDevices()
{
    std::vector<DeviceChoice> choices;
    void** hints = nullptr;
    if (snd_device_name_hint(-1, "pcm", &hints) < 0)
        return choices;
    const auto text = [](const void* hint, const char* id) {
        const std::unique_ptr<char, decltype(&free)> value(snd_device_name_get_hint(hint, id), &free);
        return std::string(value ? value.get() : "");
    };
    for (void** hint = hints; *hint; ++hint) {
        const std::string name = text(*hint, "NAME");
        if (text(*hint, "IOID") != "Input" && (name == "default" || name.starts_with("plughw:")))
            choices.push_back({"ALSA", name});
    }
    snd_device_name_free_hint(hints);
    return choices;
}

Result<std::unique_ptr<OutputDevice>> openAlsa(const std::string& name)
{
    const std::string wanted = name.empty() ? "default" : name;
    snd_lib_error_set_handler(saysNothing);
    snd_pcm_t* opened = nullptr;
    if (const int error = snd_pcm_open(&opened, wanted.c_str(), SND_PCM_STREAM_PLAYBACK, SND_PCM_NONBLOCK);
        error < 0)
        return machineFailed("ALSA cannot open " + wanted + " (" + snd_strerror(error) +
                             "): choose another device.");
    Pcm pcm(opened);
    const Format format = prepare(pcm.get());
    if (format.rate_hz == 0)
        return machineFailed("ALSA plays no stereo on " + wanted + ": choose another device.");
    return std::make_unique<AlsaDevice>(std::move(pcm), wanted, format);
}

} // namespace hr::audition

// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/alsa_pcm.h"
#include "audition/input_device.h"
#include "hosting/thread_priority.h"

#include <thread>

namespace hr::audition {

namespace {

class AlsaInput : public InputDevice {
public:
    explicit AlsaInput(AlsaPcm opened) : m_choice{"ALSA", opened.name}, m_opened(std::move(opened)) {}

    const DeviceChoice& choice() const override { return m_choice; }
    double rateHz() const override { return m_opened.format.rate_hz; }
    std::size_t latencyFrames() const override { return m_opened.format.period_frames; }

    Result<void> start(CaptureCallback take, std::function<void()> lost) override
    {
        if (const int error = snd_pcm_start(m_opened.pcm.get()); error < 0)
            return machineFailed("ALSA does not let us listen at " + m_choice.name + " (" +
                                 snd_strerror(error) + "): choose another input.");
        m_thread =
            std::jthread([this, take = std::move(take), lost = std::move(lost)](const std::stop_token& stop) {
                hosting::requestRealtime();
                record(take, stop);
                if (!stop.stop_requested())
                    lost();
            });
        return {};
    }

private:
    /// Until nothing comes any more.
    void record(const CaptureCallback& take, const std::stop_token& stop)
    {
        std::vector<float> period(2 * m_opened.format.period_frames);
        snd_pcm_t* const pcm = m_opened.pcm.get();
        for (int idle = 0; !stop.stop_requested() && idle < AlsaPcm::most_idle_looks;) {
            const auto came = snd_pcm_readi(pcm, period.data(), m_opened.format.period_frames);
            if (came > 0) {
                idle = 0;
                take(period.data(), static_cast<std::size_t>(came));
            } else if (came == -EAGAIN || came == 0) {
                idle += snd_pcm_wait(pcm, AlsaPcm::look_ms) == 0 ? 1 : 0;
            } else if (snd_pcm_recover(pcm, static_cast<int>(came), 1) < 0 || snd_pcm_start(pcm) < 0) {
                return;
            }
        }
    }

    DeviceChoice m_choice;
    AlsaPcm m_opened;
    std::jthread m_thread; // last: it ends before what it uses
};

} // namespace

std::vector<DeviceChoice> alsaInputs()
{
    return alsaChoices("Output");
}

Result<std::unique_ptr<InputDevice>> openAlsaInput(const std::string& name, double rate_hz)
{
    return openAlsaPcm(name, SND_PCM_STREAM_CAPTURE, rate_hz)
        .map([](AlsaPcm opened) -> std::unique_ptr<InputDevice> {
            return std::make_unique<AlsaInput>(std::move(opened));
        });
}

} // namespace hr::audition

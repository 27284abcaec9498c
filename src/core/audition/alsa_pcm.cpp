// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/alsa_pcm.h"

namespace hr::audition {

namespace {

constexpr unsigned preferred_rate_hz = 48000;
constexpr unsigned buffer_us = 15000;
constexpr unsigned period_us = 5000;

/// ALSA prints its errors by default, which belongs to the caller.
void saysNothing(const char*, int, const char*, int, const char*, ...) {}

struct FreeHwParams {
    void operator()(snd_pcm_hw_params_t* params) const { snd_pcm_hw_params_free(params); }
};

/// Sets `pcm` up; zero where it does not take two channels of floating point.
AlsaPcm::Format prepare(snd_pcm_t* pcm, double rate_hz)
{
    snd_pcm_hw_params_t* made = nullptr;
    snd_pcm_hw_params_malloc(&made);
    const std::unique_ptr<snd_pcm_hw_params_t, FreeHwParams> params(made);
    AlsaPcm::Format format{rate_hz > 0 ? static_cast<unsigned>(rate_hz) : preferred_rate_hz, 0, 0};
    unsigned kept = buffer_us;
    unsigned period = period_us;
    const bool good = snd_pcm_hw_params_any(pcm, params.get()) >= 0 &&
                      snd_pcm_hw_params_set_rate_resample(pcm, params.get(), rate_hz > 0 ? 1 : 0) >= 0 &&
                      snd_pcm_hw_params_set_access(pcm, params.get(), SND_PCM_ACCESS_RW_INTERLEAVED) >= 0 &&
                      snd_pcm_hw_params_set_format(pcm, params.get(), SND_PCM_FORMAT_FLOAT) >= 0 &&
                      snd_pcm_hw_params_set_channels(pcm, params.get(), 2) >= 0 &&
                      snd_pcm_hw_params_set_rate_near(pcm, params.get(), &format.rate_hz, nullptr) >= 0 &&
                      snd_pcm_hw_params_set_period_time_near(pcm, params.get(), &period, nullptr) >= 0 &&
                      snd_pcm_hw_params_set_buffer_time_near(pcm, params.get(), &kept, nullptr) >= 0 &&
                      snd_pcm_hw_params(pcm, params.get()) >= 0 &&
                      snd_pcm_hw_params_get_period_size(params.get(), &format.period_frames, nullptr) >= 0 &&
                      snd_pcm_hw_params_get_buffer_size(params.get(), &format.buffer_frames) >= 0;
    return good ? format : AlsaPcm::Format{};
}

} // namespace

std::vector<DeviceChoice> alsaChoices(const char* but_those)
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
        if (text(*hint, "IOID") != but_those && (name == "default" || name.starts_with("plughw:")))
            choices.push_back({"ALSA", name});
    }
    snd_device_name_free_hint(hints);
    return choices;
}

Result<AlsaPcm> openAlsaPcm(const std::string& name, snd_pcm_stream_t stream, double rate_hz)
{
    const std::string wanted = name.empty() ? "default" : name;
    snd_lib_error_set_handler(saysNothing);
    snd_pcm_t* opened = nullptr;
    if (const int error = snd_pcm_open(&opened, wanted.c_str(), stream, SND_PCM_NONBLOCK); error < 0)
        return machineFailed("ALSA cannot open " + wanted + " (" + snd_strerror(error) +
                             "): choose another device.");
    AlsaPcm pcm{AlsaPcm::Handle(opened), wanted, {}};
    pcm.format = prepare(opened, rate_hz);
    if (pcm.format.rate_hz == 0)
        return machineFailed(
            "ALSA " +
            std::string(stream == SND_PCM_STREAM_PLAYBACK ? "plays no stereo on " : "records no stereo from ") +
            wanted + ": choose another device.");
    return pcm;
}

} // namespace hr::audition

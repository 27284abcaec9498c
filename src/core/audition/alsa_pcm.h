// SPDX-License-Identifier: GPL-3.0-or-later
//
// A PCM of ALSA, for whoever plays or records: two channels of floating point, at its own rate where none is
// asked for, with a buffer of about 15 ms.
#pragma once

#include "audition/output_device.h"

#include <alsa/asoundlib.h>

namespace hr::audition {

struct AlsaPcm {
    static constexpr int look_ms = 100;        ///< how long it is waited for at a time
    static constexpr int most_idle_looks = 20; ///< in vain, and it is taken to have stopped

    struct Close {
        void operator()(snd_pcm_t* pcm) const { snd_pcm_close(pcm); }
    };
    using Handle = std::unique_ptr<snd_pcm_t, Close>;
    struct Format {
        unsigned rate_hz = 0;
        snd_pcm_uframes_t period_frames = 0;
        snd_pcm_uframes_t buffer_frames = 0; ///< what the hardware keeps
    };

    Handle pcm;
    std::string name;
    Format format;
};

/// The default and every card's, those through which ALSA converts sample formats ("plughw:"); but what goes
/// the other way ("Input", "Output").
std::vector<DeviceChoice> alsaChoices(const char* but_those);

/// Without waiting. `name`: a PCM name of ALSA, empty for "default". `rate_hz`: converted to by ALSA, where it
/// is not its own; 0: its own.
Result<AlsaPcm> openAlsaPcm(const std::string& name, snd_pcm_stream_t stream, double rate_hz = 0);

} // namespace hr::audition

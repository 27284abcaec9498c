// SPDX-License-Identifier: GPL-3.0-or-later
#include "signal/resample.h"

#include <cmath>
#include <soxr.h>

namespace hr::signal {

AudioBuffer resampled(const AudioBuffer& audio, double sample_rate_hz)
{
    if (audio.sampleRateHz() == sample_rate_hz)
        return audio;
    const auto frames = static_cast<std::size_t>(
        std::llround(static_cast<double>(audio.frames()) * sample_rate_hz / audio.sampleRateHz()));
    AudioBuffer converted(audio.channels(), frames, sample_rate_hz);
    const soxr_quality_spec_t quality = soxr_quality_spec(SOXR_VHQ, 0);
    for (std::size_t c = 0; c < audio.channels(); ++c)
        soxr_oneshot(audio.sampleRateHz(), sample_rate_hz, 1, audio.channel(c).data(), audio.frames(), nullptr,
                     converted.channel(c).data(), frames, nullptr, nullptr, &quality, nullptr);
    return converted;
}

} // namespace hr::signal

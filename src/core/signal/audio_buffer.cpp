// SPDX-License-Identifier: GPL-3.0-or-later
#include "signal/audio_buffer.h"

#include <algorithm>

namespace hr::signal {

AudioBuffer slice(const AudioBuffer& audio, std::size_t first, std::size_t count)
{
    AudioBuffer part(audio.channels(), count, audio.sampleRateHz());
    if (first >= audio.frames())
        return part;
    const std::size_t inside = std::min(count, audio.frames() - first);
    for (std::size_t c = 0; c < audio.channels(); ++c)
        std::ranges::copy(audio.channel(c).subspan(first, inside), part.channel(c).begin());
    return part;
}

AudioBuffer toStereo(const AudioBuffer& audio)
{
    if (audio.channels() == 2)
        return audio;
    AudioBuffer stereo(2, audio.frames(), audio.sampleRateHz());
    const float gain =
        audio.channels() <= 1 ? 1.0F : 2.0F / static_cast<float>(audio.channels() + audio.channels() % 2);
    for (std::size_t c = 0; c < std::max<std::size_t>(audio.channels(), 2); ++c) {
        const auto from = audio.channel(std::min(c, audio.channels() - 1));
        const auto to = stereo.channel(c % 2);
        for (std::size_t i = 0; i < from.size(); ++i)
            to[i] += gain * from[i];
    }
    return stereo;
}

} // namespace hr::signal

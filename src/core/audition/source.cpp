// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/source.h"

#include "signal/audio_file.h"
#include "signal/resample.h"

#include <algorithm>
#include <cmath>

namespace hr::audition {

Result<std::shared_ptr<const Source>> Source::load(const std::filesystem::path& file, double rate_hz)
{
    auto audio = signal::readAudioFile(file);
    if (!audio)
        return tl::make_unexpected(audio.error());
    std::string remark;
    if (audio->channels() > 2)
        remark = std::to_string(audio->channels()) + " channels mixed down to stereo";
    if (audio->sampleRateHz() != rate_hz)
        remark += (remark.empty() ? "" : ", ") + std::string("converted from ") +
                  std::to_string(std::lround(audio->sampleRateHz())) + " Hz";
    auto source = std::make_shared<Source>(signal::resampled(signal::toStereo(*audio), rate_hz));
    source->m_remark = remark;
    return source;
}

void Source::read(const Section& loop, std::size_t at, float* left, float* right,
                  std::size_t count) const noexcept
{
    at %= loop.frames;
    while (count > 0) {
        const std::size_t now = std::min(count, loop.frames - at);
        left = std::copy_n(m_audio.channel(0).data() + loop.first + at, now, left);
        right = std::copy_n(m_audio.channel(1).data() + loop.first + at, now, right);
        count -= now;
        at = 0;
    }
}

Section fitted(const Section& asked, std::size_t source_frames, std::size_t least_frames)
{
    const std::size_t least = std::min(least_frames, source_frames);
    const std::size_t frames = std::clamp(asked.frames, least, source_frames);
    return {std::min(asked.first, source_frames - frames), frames};
}

} // namespace hr::audition

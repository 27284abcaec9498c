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

void StreamResampler::Delete::operator()(soxr* converter) const
{
    soxr_delete(converter);
}

StreamResampler::StreamResampler(std::size_t channels, double from_hz, double to_hz)
    : m_channels(channels), m_ratio(to_hz / from_hz)
{
    const soxr_quality_spec_t quality = soxr_quality_spec(SOXR_VHQ, 0);
    m_converter.reset(
        soxr_create(from_hz, to_hz, static_cast<unsigned>(channels), nullptr, nullptr, &quality, nullptr));
}

std::vector<float> StreamResampler::process(std::span<const float> interleaved)
{
    const std::size_t frames = interleaved.size() / m_channels;
    std::vector<float> all;
    std::vector<float> out;
    for (std::size_t taken = 0;;) {
        out.resize(m_channels * (static_cast<std::size_t>(m_ratio * static_cast<double>(frames)) + 4096));
        std::size_t used = 0;
        std::size_t made = 0;
        const float* in = frames > 0 ? interleaved.data() + taken * m_channels : nullptr;
        soxr_process(m_converter.get(), in, frames - taken, &used, out.data(), out.size() / m_channels, &made);
        taken += used;
        all.insert(all.end(), out.begin(), out.begin() + static_cast<std::ptrdiff_t>(made * m_channels));
        const bool stuck = used == 0 && made == 0;
        if (stuck || (taken >= frames && frames > 0))
            return all;
    }
}

} // namespace hr::signal

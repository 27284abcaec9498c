// SPDX-License-Identifier: GPL-3.0-or-later
//
// Sound in memory: channels x frames of 32-bit float, one run of memory a channel, full scale = 1.
#pragma once

#include <cassert>
#include <cstddef>
#include <span>
#include <vector>

namespace hr::signal {

class AudioBuffer {
public:
    AudioBuffer() = default;
    /// Silence. `sample_rate_hz` must be positive.
    AudioBuffer(std::size_t channels, std::size_t frames, double sample_rate_hz)
        : m_channels(channels), m_frames(frames), m_sample_rate_hz(sample_rate_hz), m_samples(channels * frames)
    {
        assert(sample_rate_hz > 0);
    }

    std::size_t channels() const { return m_channels; }
    std::size_t frames() const { return m_frames; }
    double sampleRateHz() const { return m_sample_rate_hz; }
    double seconds() const { return m_channels == 0 ? 0.0 : static_cast<double>(m_frames) / m_sample_rate_hz; }

    std::span<float> channel(std::size_t index)
    {
        assert(index < m_channels);
        return std::span(m_samples).subspan(index * m_frames, m_frames);
    }
    std::span<const float> channel(std::size_t index) const
    {
        assert(index < m_channels);
        return std::span(m_samples).subspan(index * m_frames, m_frames);
    }
    std::span<const float> samples() const { return m_samples; }
    std::span<float> samples() { return m_samples; }

private:
    std::size_t m_channels = 0;
    std::size_t m_frames = 0;
    double m_sample_rate_hz = 48000.0;
    std::vector<float> m_samples; // channel after channel
};

/// Frames `first` to `first + count` of every channel; what lies outside the buffer is silence.
AudioBuffer slice(const AudioBuffer& audio, std::size_t first, std::size_t count);

/// One channel is doubled; more than two are mixed down (odd ones left, even ones right), scaled so
/// that full scale on all channels stays full scale.
AudioBuffer toStereo(const AudioBuffer& audio);

} // namespace hr::signal

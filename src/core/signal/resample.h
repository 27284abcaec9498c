// SPDX-License-Identifier: GPL-3.0-or-later
//
// Rate conversion through soxr at its very high quality.
#pragma once

#include "signal/audio_buffer.h"

#include <memory>
#include <span>
#include <vector>

struct soxr;

namespace hr::signal {

/// `audio` at `sample_rate_hz`; itself where the rate already fits.
AudioBuffer resampled(const AudioBuffer& audio, double sample_rate_hz);

/// The same stretch by stretch, of interleaved sound.
class StreamResampler {
public:
    StreamResampler(std::size_t channels, double from_hz, double to_hz);

    /// What has come out of these frames; of none: the rest.
    std::vector<float> process(std::span<const float> interleaved);

private:
    struct Delete {
        void operator()(soxr* converter) const;
    };
    std::unique_ptr<soxr, Delete> m_converter;
    std::size_t m_channels;
    double m_ratio;
};

} // namespace hr::signal

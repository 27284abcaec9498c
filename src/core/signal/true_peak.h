// SPDX-License-Identifier: GPL-3.0-or-later
//
// True peak by ITU-R BS.1770-4 annex 2 through libebur128, which oversamples fourfold; but only where the
// highest peak can be: an interpolated value exceeds its neighbours by less than a factor of 1.87 (the sum
// of the interpolator's coefficients), so what stays below the peak so far by more is passed over.
#pragma once

#include <cstddef>
#include <ebur128.h>
#include <memory>
#include <vector>

namespace hr::signal {

class TruePeakMeter {
public:
    TruePeakMeter(std::size_t channels, double sample_rate_hz);

    /// Not for the audio callback: it allocates.
    void add(const float* interleaved, std::size_t frames);
    /// Largest over all channels so far, linear; 0 for silence. Never below the sample peak.
    double peak()
    {
        if (!m_growing.empty())
            addBlock(); // ends here; the next begins with the next frame
        return m_peak;
    }

private:
    static constexpr std::size_t block_frames = 16; // more than the interpolator reaches to either side

    struct Destroy {
        void operator()(ebur128_state* state) const { ebur128_destroy(&state); }
    };
    void addBlock();
    void feed(const std::vector<float>& block);

    std::unique_ptr<ebur128_state, Destroy> m_state;
    std::size_t m_channels;
    std::vector<float> m_growing, m_last; // interleaved; m_growing fills up to a block
    bool m_last_fed = true, m_last_active = false;
    double m_peak = 0;
};

} // namespace hr::signal

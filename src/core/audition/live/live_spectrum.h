// SPDX-License-Identifier: GPL-3.0-or-later
//
// The spectrum of what passes by, in bands of a twelfth of an octave from 20 Hz to 20 kHz: power by a Hann
// window (F. J. Harris 1978) of some 85 ms, averaged over time, both channels together.
#pragma once

#include "audition/tap.h"

#include <optional>
#include <span>
#include <vector>

namespace hr::audition {

class LiveSpectrum {
public:
    explicit LiveSpectrum(double sample_rate_hz);

    void add(const TapBlock& block);
    /// Takes what has come since into the average and the highest so far: as often as it is drawn.
    void update();
    void clear();
    /// Over which the level is averaged.
    void setAveraging(double seconds) { m_averaged_s = seconds; }
    static constexpr double usual_averaging_s = 0.3;

    /// Centres of the bands, ascending.
    const std::vector<double>& frequenciesHz() const { return m_frequencies_hz; }
    /// Level in each, by AES17: a full-scale sine reads 0 dBFS in its band, within
    /// 0.3 dB wherever it lies. Empty until there was sound.
    const std::vector<double>& levelsDbfs() const { return m_levels_dbfs; }
    /// The highest in each since clear().
    const std::vector<double>& peaksDbfs() const { return m_peaks_dbfs; }

private:
    std::vector<double> powers(std::span<const double> samples) const; // of each band

    double m_averaged_s = usual_averaging_s;
    double m_bin_hz;
    std::vector<double> m_window;
    std::vector<double> m_frequencies_hz;
    std::vector<std::pair<std::size_t, std::size_t>> m_bins; // of each band: first, and one past the last
    std::vector<double> m_left, m_right;                     // rings of one window, m_at the oldest
    std::size_t m_at = 0, m_filled = 0, m_fresh = 0;
    std::vector<double> m_average; // power of each band
    std::vector<double> m_levels_dbfs, m_peaks_dbfs;
};

/// What comes out against what goes in, band by band, in dB; empty where either is at the bottom or not there.
std::vector<std::optional<double>> differenceDb(const LiveSpectrum& in, const LiveSpectrum& out);

} // namespace hr::audition

// SPDX-License-Identifier: GPL-3.0-or-later
//
// The complex response that belongs to an impulse response, read at any frequency.
#pragma once

#include <algorithm>
#include <cmath>
#include <complex>
#include <vector>

namespace hr::bench {

/// Times 0 to `frames` of a deconvolved response, with a tenth of a second of negative time (the skirts of the
/// sweep's ends; distortion lies earlier) faded in at its end, and silence between: 30 s, so that between bins
/// of 0.03 Hz even a narrow notch at 20 Hz is a straight line.
std::vector<double> linearPart(const std::vector<double>& response, std::size_t frames, double sample_rate_hz);

class Spectrum {
public:
    Spectrum(const std::vector<double>& impulse_response, double sample_rate_hz);

    double magnitudeDb(double frequency_hz) const;
    /// Of the nearest bin.
    std::complex<double> at(double frequency_hz) const
    {
        return m_bins[std::min(static_cast<std::size_t>(std::lround(frequency_hz / m_bin_hz)),
                               m_bins.size() - 1)];
    }
    /// Magnitude of the difference from another of the same length, RMS over a few hertz around a frequency.
    double differenceAt(double frequency_hz, const Spectrum& other) const;

    /// Degrees without jumps from bin 0 on, after `delay_samples` are taken out, at each of `grid`.
    std::vector<double> unwrappedPhase(const std::vector<double>& grid, double delay_samples,
                                       double sample_rate_hz) const;

private:
    template<class AtBin>
    double between(double frequency_hz, const AtBin& at) const
    {
        const double position = frequency_hz / m_bin_hz;
        const auto k = std::min(static_cast<std::size_t>(position), m_bins.size() - 2);
        const double part = position - static_cast<double>(k);
        return at(k) * (1 - part) + at(k + 1) * part;
    }

    std::vector<std::complex<double>> m_bins;
    double m_bin_hz;
};

} // namespace hr::bench

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
/// sweep's ends; distortion lies earlier) faded in at its end, and silence between: 30 s or more, so that bins
/// are 0.03 Hz apart or less.
std::vector<double> linearPart(const std::vector<double>& response, std::size_t frames, double sample_rate_hz);

class Spectrum {
public:
    /// Of a linearPart().
    Spectrum(const std::vector<double>& impulse_response, double sample_rate_hz);
    /// Of the mean of two responses of one length, neither of them refined.
    static Spectrum mean(const Spectrum& one, const Spectrum& other);

    /// From now on magnitudes below `to_hz` are read between bins of a thousandth of a hertz: what rings for
    /// seconds there is narrower than the others. `cut_off_s`: where the record of what rings for long is cut
    /// off; what would have come is worked out from how it fell until then. Less than 6: it had rung out.
    void refine(double to_hz, double cut_off_s = 0);

    double magnitudeDb(double frequency_hz) const;
    /// Of the nearest bin.
    std::complex<double> at(double frequency_hz) const
    {
        return m_bins[std::min(static_cast<std::size_t>(std::lround(frequency_hz / m_bin_hz)),
                               m_bins.size() - 1)];
    }
    /// Magnitude of the difference from another of the same length, RMS over a few hertz around a frequency.
    double differenceAt(double frequency_hz, const Spectrum& other) const;
    /// The same over so few bins that a line of hum is seen.
    double lineDifferenceAt(double frequency_hz, const Spectrum& other) const;

    /// Degrees without jumps from bin 0 on, after `delay_samples` are taken out, at each of `grid`.
    std::vector<double> unwrappedPhase(const std::vector<double>& grid, double delay_samples,
                                       double sample_rate_hz) const;

private:
    using Bins = std::vector<std::complex<double>>;

    double differenceWithin(double reach_hz, double frequency_hz, const Spectrum& other) const;

    struct Analytic {
        std::vector<double> real, imaginary;
    };

    void addWhatIsCutOff(const Analytic& response, std::size_t stretch, std::size_t end, std::size_t padded);
    void addRest(const Bins& before, const Bins& last, std::size_t stretch, std::size_t padded);

    Bins m_bins;
    double m_bin_hz;
    Bins m_fine; // empty: not refined
    double m_fine_bin_hz = 0;
    double m_fine_to_hz = 0;
};

} // namespace hr::bench

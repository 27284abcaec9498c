// SPDX-License-Identifier: GPL-3.0-or-later
//
// Decay curves (M. R. Schroeder, "New method of measuring reverberation time", JASA 37, 1965; ISO 3382-1:2009)
// and the density of echoes (J. S. Abel, P. Huang, "A simple, robust measure of reverberation echo density",
// AES 121, 2006). Arithmetic only.
#pragma once

#include <complex>
#include <optional>
#include <span>
#include <vector>

namespace hr::bench {

struct DecayTimes {
    std::optional<double> t30_s;  ///< from the line through -5 to -35 dB, times two
    std::optional<double> edt_s;  ///< from the line through 0 to -10 dB, times six
    std::vector<double> curve_db; ///< the backward integration, a value a sample as far as it clears the noise
    double bent_permille = 0; ///< how far the decay is from a line (ISO 3382-2, annex B): above 10 it is none
};

/// Of power by sample, from the beginning of the sound; noise at its end is taken off, and what it hides
/// counted as if the decay went on.
DecayTimes decayTimes(std::span<const double> power, double sample_rate_hz);

/// A response by octaves, nothing shifted in time.
class Octaves {
public:
    Octaves(std::span<const double> response, double sample_rate_hz);

    /// The part of it in the octave around a frequency.
    std::vector<double> around(double centre_hz) const;

private:
    std::size_t m_frames, m_padded_frames;
    double m_bin_hz;
    std::vector<std::complex<double>> m_bins;
};

/// When the share of samples beyond one standard deviation, in a window of 20 ms, first reaches that of
/// Gaussian noise: the middle of the window, in seconds. Empty where it never does.
std::optional<double> denseAfterS(std::span<const double> response, double sample_rate_hz);

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
//
// A magnitude response and the figures read off it. Arithmetic only: where the response came from
// (a sweep, a filter on paper) does not matter.
#pragma once

#include <functional>
#include <optional>
#include <vector>

namespace hr::bench {

/// dB at a frequency in Hz.
using MagnitudeDb = std::function<double(double)>;

struct Extreme {
    double frequency_hz = 0;
    double gain_db = 0; ///< relative to the passband
    double prominence_db = 0;
    std::optional<double> q;                ///< empty where the half-gain points leave the band
    std::optional<double> bandwidth_3db_hz; ///< empty where it does not come 3.01 dB down on both sides
};

struct MagnitudeFigures {
    double passband_db = 0;
    std::optional<double> corner_low_hz, corner_high_hz;
    std::optional<double> slope_low_db_per_octave, slope_high_db_per_octave;
    std::vector<Extreme> peaks, notches;
};

/// Frequencies from `low_hz` to `high_hz`, `per_octave` to the octave, both ends included.
std::vector<double> logarithmicGrid(double low_hz, double high_hz, int per_octave);

/// The mode of magnitudes that were sampled evenly on a logarithmic axis: a 1 dB window slid to where it holds
/// most of them, then the mean of the densest 0.1 dB inside it; a tie goes to the louder. Of at least one.
double passbandOf(std::vector<double> magnitudes_db);

/// Passband: the mode of the magnitude on a logarithmic axis from 20 Hz to 0.45 fs.
/// Corners: the outermost crossings of 3.01 dB below it. Slopes: the fall over the octave that begins
/// one octave beyond the corner, where that lies within 10 Hz to 0.45 fs. Peaks and notches: local
/// extremes from 20 Hz to 0.45 fs, at least 0.5 dB from the passband and from both their sides, notches no
/// deeper than 60 dB; q = centre / bandwidth at half their gain in dB, bandwidth_3db_hz 3.01 dB from the
/// extreme itself.
MagnitudeFigures readMagnitude(const MagnitudeDb& magnitude, double sample_rate_hz);

} // namespace hr::bench

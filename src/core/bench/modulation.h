// SPDX-License-Identifier: GPL-3.0-or-later
//
// What moves a tone: its level and pitch over time, and the period in them. Arithmetic only.
#pragma once

#include <optional>
#include <span>
#include <vector>

namespace hr::bench {

/// A tone taken apart: one value each `1 / rate_hz` seconds.
struct Demodulated {
    std::vector<double> level_db;        ///< of its amplitude, full scale = 0; at least -200
    std::vector<double> deviation_parts; ///< of its frequency from the carrier's, as a part of it
    double rate_hz = 1000;
};

/// The carrier has whole `cycle_frames`; each look goes through a Hann window over so many of its `cycles`, an
/// even number, the next one half a window later. Two show what moves fast, four hiss less.
Demodulated demodulated(std::span<const double> tone, std::size_t cycle_frames, double sample_rate_hz,
                        std::size_t cycles = 4);

struct Periodicity {
    double rate_hz = 0;
    double explained = 0; ///< share of the variance that repeats at this rate: 1 periodic, 0 not at all
};

/// The rate at which a curve repeats: the lag after which it is most similar to itself, refined by least
/// squares with five harmonics, or by laying its periods on one another where that explains more. At least two
/// periods have to be there. Empty where it stands still, or is like itself at no time.
std::optional<Periodicity> periodicityOf(std::span<const double> curve, double curve_rate_hz);
/// Share of the variance that the mean period of a given rate has, 0 to 1.
double explainedAt(std::span<const double> curve, double curve_rate_hz, double rate_hz);

/// By how much of a period, in degrees from 0 to 180, one curve that repeats at a rate is behind another: by
/// their fundamentals, or, where those are little of them, by what fits best of all of the period.
double apartDeg(std::span<const double> one, std::span<const double> other, double curve_rate_hz,
                double rate_hz);

/// Wow and flutter in percent: deviations weighted by IEC 60386, the value that is exceeded for 5 % of the
/// time.
double wowAndFlutterPercent(std::span<const double> deviation_parts, double curve_rate_hz);

} // namespace hr::bench

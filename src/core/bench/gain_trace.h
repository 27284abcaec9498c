// SPDX-License-Identifier: GPL-3.0-or-later
//
// The gain from sample to sample after a step of a tone's level, and the times that are read off it. Arithmetic
// only.
#pragma once

#include <optional>
#include <span>
#include <vector>

namespace hr::bench {

/// A tone that has just been stepped, at phase 0.
struct SteppedCycle {
    double frequency_hz = 1000;
    double before_dbfs = 0; ///< its level until then
    double level_dbfs = 0;
    double sample_rate_hz = 48000;
    std::size_t latency_frames = 0; ///< of the answer
};

/// Gain in dB at each sample of the answer, from the moment of the step on: what arrives before the latency has
/// gone by is still the tone of before, but a processor that looks ahead may be riding it already. Of the
/// samples themselves where the output follows the waveform, else of a cycle around each.
std::vector<double> gainTrace(std::span<const double> answer, const SteppedCycle& tone);

/// From one settled gain to another.
struct GainChange {
    double from_db = 0, to_db = 0;
};

/// The same without what rings on of the tone before: a filter on the way (a band's edge) still gives out the
/// old tone after a step, which against the new level seems a change of gain that comes and goes. From frame
/// `arrives` on, to where the gain is nearest to that of before, a straight line.
std::vector<double> withoutRinging(std::vector<double> gain_db, const GainChange& change,
                                   const SteppedCycle& tone);

/// Seconds until `share` of the change is done; empty where it never is.
std::optional<double> timeOf(std::span<const double> gain_db, const GainChange& change, double share,
                             double sample_rate_hz);

/// Seconds until the gain begins to move, where it stood still before: what its first tenth goes back to, in a
/// straight line. Empty where it began to move at once, however slowly.
std::optional<double> standstillOf(std::span<const double> gain_db, const GainChange& change,
                                   double sample_rate_hz);

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
//
// What arrives one after the other in an impulse response: the sound itself, echoes, the beginning of a reverb.
// Arithmetic only. Times are in samples from the beginning of the response.
#pragma once

#include <optional>
#include <vector>

namespace hr::bench {

struct Arrival {
    double at = 0;    ///< between the samples
    double power = 0; ///< all of it within half a millisecond, all channels: 1 for a unit impulse of one
};

struct Arrivals {
    std::vector<Arrival> list; ///< by time, at most 64: the strongest
    double total_power = 0;    ///< of the whole response
    /// How far it falls between each arrival and the next, or the next 4 ms, dB: the median of all of them.
    /// What is made of distinct echoes falls by far more than noise does.
    double fall_db = 0;

    /// Share of the whole, without `direct`, that lies in the others.
    double explained(const std::optional<Arrival>& direct) const;
};

/// Local highs of the envelope of all `responses` together, up to `frames`: down to 60 dB below the strongest
/// and 12 dB above the noise at the end, at least a millisecond apart.
Arrivals arrivalsIn(const std::vector<std::vector<double>>& responses, std::size_t frames,
                    double sample_rate_hz);

/// Power of one response within half a millisecond of `at`, against that of a unit impulse.
double powerAround(const std::vector<double>& response, double at, double sample_rate_hz);

/// The sound itself, no echo of it: the first arrival, where it comes within 0.2 ms of `latency_samples`.
std::optional<Arrival> directSound(const Arrivals& arrivals, double latency_samples, double sample_rate_hz);

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
//
// How far two sounds are from being the same, once lined up in time and matched in loudness.
#pragma once

#include "audition/source.h"
#include "hosting/instance.h"

#include <stop_token>

namespace hr::audition {

/// Two whose residual is below this are called the same.
inline constexpr double same_below_db = -90;

struct Comparison {
    double offset_samples = 0;         ///< by which the second is later, with parts of a sample
    std::optional<double> gain_db;     ///< what brings the second to the loudness of the first; empty: silence
    std::optional<double> residual_db; ///< power of the difference against the first; empty: no difference
    std::optional<double> response_difference_db; ///< the largest among third octaves that hold sound
    bool same = false;
};

/// Of equal channels, rate and length; the longest common offset is half of that.
/// Of no use once `cancel` asks to stop.
Comparison compare(const signal::AudioBuffer& first, const signal::AudioBuffer& second,
                   const std::stop_token& cancel = {});

/// One repetition of the source through a processor, after another one to settle, with the latency that it has
/// left in: compare() takes it out. The instance must have been opened as Channels::Stereo.
hosting::FaultOr<signal::AudioBuffer> heardThrough(hosting::Instance& instance, std::span<const double> values,
                                                   const signal::AudioBuffer& source);

} // namespace hr::audition

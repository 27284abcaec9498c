// SPDX-License-Identifier: GPL-3.0-or-later
//
// What a contender changes: how much is left of it once the reference is taken away from it, both lined up to a
// part of a sample.
#pragma once

#include "audition/matching.h"

namespace hr::audition {

/// Against the reference, over one repetition once both have settled.
struct Difference {
    double offset_samples = 0; ///< by which it is later than the reference, its latency apart
    double power_ratio = 0;    ///< its power through the reference's
    double common = 0; ///< what both have in common through the reference's power: 1 where they are equal
    /// The same two as they sound together, K-weighted and not lined up by parts of a sample.
    double loud_ratio = 0;
    double loud_common = 0;

    /// Level of the difference below the reference (negative: below), where it is brought `gain_db` further
    /// than the reference; empty: there is no difference.
    std::optional<double> levelDb(double gain_db) const;
};

/// Latencies are found and taken out of both, as the engine does it; what is left of delay up to this is lined
/// up. More is what a processor does.
inline constexpr std::size_t most_offset_samples = 48;

/// Of sections beyond 20 s, their first 20 s. Empty: the reference is silent.
hosting::FaultOr<std::optional<Difference>> differenceOf(const Source& source, const Section& loop,
                                                         const Treatment& reference, const Treatment& contender,
                                                         const std::stop_token& cancel = {});

} // namespace hr::audition

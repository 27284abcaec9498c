// SPDX-License-Identifier: GPL-3.0-or-later
//
// What a comparison is worth: by how much each is turned down, and how far apart they still are in loudness.
#pragma once

#include "audition/matching.h"

namespace hr::audition {

/// A comparison whose contenders differ by no more is fair.
inline constexpr double fair_within_lu = 0.1;

/// Switching to what is louder by more is a jump for the ears: it is faded to.
inline constexpr double jump_from_lu = 12;

/// One of those that are compared.
struct Part {
    LoopLoudness loop;
    std::optional<double> by_hand_db; ///< a gain that somebody has set, which no matching changes
};

struct Fairness {
    std::vector<double> gains_db;   ///< of each: by hand, or what the matching takes
    std::vector<double> matched_db; ///< of each: what the matching takes, or would take, were it not by hand
    /// Loudness of the reference at its gain, or, where it has none, of the quietest; empty: nobody has any.
    std::optional<double> common_lufs;
    std::vector<std::optional<double>> apart_lu; ///< of each, at its gain, from there; empty: no loudness

    /// The farthest, its spread included; 0 where nobody has a loudness.
    double withinLu(std::span<const Part> parts) const;
};

/// `reference` is a place in `parts`. What is set by hand has no part in where the others are brought.
Fairness fairnessOf(std::span<const Part> parts, Basis basis, std::size_t reference);

} // namespace hr::audition

// SPDX-License-Identifier: GPL-3.0-or-later
//
// What a source does in time: where its sounds begin, and how fast it goes.
#pragma once

#include "audition/source.h"

#include <optional>
#include <stop_token>
#include <vector>

namespace hr::audition {

struct Rhythm {
    std::vector<std::size_t> onsets; ///< frames of the source, ascending
    std::optional<double> tempo_bpm; ///< empty: nothing recurs
    /// How far the sound a beat later is like the sound now: 0 not at all, 1 the same.
    double certainty = 0;
};

inline constexpr double least_tempo_bpm = 50;
inline constexpr double most_tempo_bpm = 220;
inline constexpr double rhythm_longest_s = 60; ///< longer sections are looked at so far

/// Onsets are where the spectrum gains most (spectral flux: S. Dixon, "Onset detection revisited", DAFx 2006);
/// the tempo is the lag at which that recurs, near 120 where several do (autocorrelation with a preference:
/// D. Ellis, "Beat tracking by dynamic programming", JNMR 36, 2007). Not for the interface's thread.
Rhythm findRhythm(const Source& source, const Section& section, const std::stop_token& cancel = {});

/// The nearest onset within a tenth of a second; `frame` where there is none.
std::size_t snappedToOnset(const Rhythm& rhythm, std::size_t frame, double rate_hz);
/// The nearest bar of four beats, counted from the beginning of the source.
std::size_t snappedToBar(double tempo_bpm, std::size_t frame, double rate_hz);

} // namespace hr::audition

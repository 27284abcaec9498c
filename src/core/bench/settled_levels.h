// SPDX-License-Identifier: GPL-3.0-or-later
//
// What a processor does with levels: a tone in steps, each held until the output has settled, and the figures
// of dynamics that follow. Several tests start from it; a subject keeps it once it is known.
#pragma once

#include "bench/level_curve.h"
#include "bench/stepped_tone.h"

namespace hr::bench {

struct SettledLevels {
    std::string why_none;           ///< why there are no dynamics to speak of; empty where there may be
    bool nothing_comes_out = false; ///< no step does above -100 dBFS
    LevelCurve curve;               ///< in equal steps
    LevelCurve further;             ///< between them, where they did not tell enough
    LevelFigures figures;
    bool saturating = false; ///< the waveform is bent, not the level ridden
    bool inharmonic = false; ///< and what is added is no harmonic of another tone
    bool closes_to_silence = false;
    std::optional<double> closes_db; ///< of what opens and closes at different levels
    bool unsettled = false;          ///< some steps still moved when they were left
    double frequency_hz = 0, held_s = 0, step_db = 1;
    /// The same at other frequencies, where the gain changes by another amount there.
    std::vector<SettledLevels> elsewhere;

    /// Whether the gain depends on the level, and takes its time.
    bool isDynamic() const { return why_none.empty() && !saturating && figures.kind != "linear"; }
    double gainDb(std::size_t i) const { return curve[i].second - curve[i].first; }
};

/// From a fresh start, with the tone on the main input or on the key. On the key the curve is what the gain of
/// the main input would make of the key's level.
hosting::FaultOr<SettledLevels> settleLevels(Subject& subject, SteppedTone& tone);

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
//
// The demo's sounds, all synthesised here: what the harbour museum records for its ferry crossing.
// Seamless loops at 48 kHz.
#pragma once

#include "signal/audio_buffer.h"

#include <string>
#include <vector>

namespace demo {

/// Four bars of a small brass band at 96 bpm: cornets, horns, tuba, snare and bass drum in a hall.
hr::signal::AudioBuffer brassBand();

/// The guide announces the crossing: speech-like formants with sibilants, pauses and room noise.
hr::signal::AudioBuffer spokenGuide();

/// Snare and frame drum; an upright bass; a choir with sibilants; hand bells, whose decays are long; an
/// accordion; tuba and bass drum.
hr::signal::AudioBuffer deckDrums();
hr::signal::AudioBuffer uprightBass();
hr::signal::AudioBuffer harbourChoir();
hr::signal::AudioBuffer handBells();
hr::signal::AudioBuffer accordion();
hr::signal::AudioBuffer tubaAndDrum();

struct DemoSource {
    std::string file; ///< "evening-crossing.wav"
    std::string name; ///< "Evening crossing"
    std::string role; ///< "brass band, full mix"
    double tempo_bpm; ///< 0: none
    hr::signal::AudioBuffer (*make)();
};

const std::vector<DemoSource>& demoSources();

} // namespace demo

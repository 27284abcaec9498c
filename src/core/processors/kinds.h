// SPDX-License-Identifier: GPL-3.0-or-later
//
// What sort of effect a processor is, in the trade's words, on one tree of two levels over all formats:
//
//     dynamics      compressor, limiter, gate, expander, de-esser, multiband, transients
//     saturation    distortion, resolution
//     modulation    chorus, flanger, phaser, tremolo, vibrato
//     utility       meter, generator
//     equaliser, filter, delay, reverb, pitch, stereo, restoration, spectral, instrument
//
// `unplaced_kind` stands for what nobody has said anything about.
#pragma once

#include "processors/description.h"

#include <string_view>

namespace hr::processors {

inline constexpr std::string_view unplaced_kind = "effect";

/// The kind that `kind` is a sort of; empty for one at the top.
std::string_view kindAbove(std::string_view kind);

/// What one uses it for, as a sentence for those who are new to it; empty for what is no kind.
std::string_view kindAbout(std::string_view kind);

/// All there are, each after the one above it.
const std::vector<std::string>& allKinds();

/// The kind that a class of the LV2 and LADSPA ontologies stands for ("CompressorPlugin"); empty for others.
std::string_view kindOfClass(std::string_view class_name);

struct PlacedKind {
    std::string kind = std::string(unplaced_kind);
    bool proposed = false; ///< guessed from weak words, parameters or the description: to be confirmed
};

/// From all it says of itself, in this order: telling words of its name ("noise gate" is a gate, "multiband
/// equaliser" an equaliser), its classes (the most telling of several), lesser words of its name, its
/// parameters, its description.
PlacedKind placedKind(const ProcessorInfo& info);

} // namespace hr::processors

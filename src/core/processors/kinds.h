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
// `unplaced` stands for what nobody has said anything about.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace hr::processors {

inline constexpr std::string_view unplaced_kind = "effect";

/// The kind that `kind` is a sort of; empty for one at the top.
std::string_view kindAbove(std::string_view kind);

/// All there are, each after the one above it.
const std::vector<std::string>& allKinds();

/// What a name gives away: "SC4 mono compressor" -> "compressor".
std::optional<std::string> kindFromWords(std::string_view name);

/// `kind` or, where the name says more, what the name says: an unplaced "Tarn Reverb" is a reverb, a "dynamics"
/// called De-esser is a de-esser; what is placed exactly stays there.
std::string refinedKind(std::string_view kind, std::string_view name);

} // namespace hr::processors

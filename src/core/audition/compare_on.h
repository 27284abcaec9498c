// SPDX-License-Identifier: GPL-3.0-or-later
//
// Two or more processors compared on several sounds (audition/compare.h): the same only where no sound shows a
// difference, else by the one that shows most.
#pragma once

#include "audition/compare.h"

#include <filesystem>
#include <stop_token>
#include <string>
#include <vector>

namespace hr::audition {

struct ComparedSound {
    std::filesystem::path file; ///< empty: the bench's programme
    signal::AudioBuffer sound;  ///< of one channel or two
};

/// The WAV files in a folder, by name, as the demo has its sources; where there are none, the bench's
/// programme.
std::vector<ComparedSound> soundsIn(const std::filesystem::path& folder);

/// What it makes of each, freshly started for each; `values` none: at its defaults.
hosting::FaultOr<std::vector<signal::AudioBuffer>> heardOn(const std::vector<ComparedSound>& sounds,
                                                           const hosting::Location& location,
                                                           std::span<const double> values,
                                                           const std::stop_token& cancel = {});

struct MostApart {
    Comparison comparison;
    std::size_t on = 0; ///< which of the sounds
};

/// What both made of the same sounds, of which there is at least one; what cannot be told apart in loudness,
/// because one of them is silent, is further apart than anything. Once `cancel` asks to stop, of the sounds so
/// far.
MostApart mostApart(const std::vector<signal::AudioBuffer>& first,
                    const std::vector<signal::AudioBuffer>& second, const std::stop_token& cancel = {});

} // namespace hr::audition

// SPDX-License-Identifier: GPL-3.0-or-later
//
// Sounds that need no file: to be listened through as any other source. All repeat without a seam.
#pragma once

#include "audition/source.h"

#include <optional>
#include <span>
#include <string>
#include <string_view>

namespace hr::audition {

struct GeneratedSound {
    std::string_view name; ///< what load() knows it by: "generated:pink-noise"
    std::string_view title;
};

/// Tone, sweep, pink and white noise, clicks, silence.
std::span<const GeneratedSound> generatedSounds();

inline constexpr double generated_s = 8;
inline constexpr double generated_level_dbfs = -18; ///< AES17: of a tone its peak, of noise RMS + 3.01 dB

/// Empty where no sound has this name.
std::optional<signal::AudioBuffer> generatedSound(std::string_view name, double rate_hz);

/// A generated sound by its name, or a file.
Result<std::shared_ptr<const Source>> loadSource(const std::string& name_or_file, double rate_hz);

} // namespace hr::audition

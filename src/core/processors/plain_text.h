// SPDX-License-Identifier: GPL-3.0-or-later
//
// Text from outside (plug-ins, files) as text that can be kept, sent and shown: valid UTF-8, of bounded length,
// without anything that moves the cursor or turns the reading direction round.
#pragma once

#include <string>
#include <string_view>

namespace hr::processors {

enum class Lines {
    One,  ///< line breaks become blanks
    Many, ///< line breaks and tabs stay
};

/// What is not UTF-8 becomes U+FFFD, control characters become blanks, and what is longer than `most_bytes`
/// ends in "…".
std::string plainText(std::string_view text, std::size_t most_bytes, Lines lines = Lines::One);

/// Bytes of the code point at the front of `text`, which is not empty; 0 where plainText() would not keep it.
std::size_t plainLength(std::string_view text);

// Bounds of what a processor says of itself, in bytes.
inline constexpr std::size_t longest_id = 1000;
inline constexpr std::size_t longest_name = 300;
inline constexpr std::size_t longest_unit = 30;
inline constexpr std::size_t longest_document = 1 << 16;

} // namespace hr::processors

// SPDX-License-Identifier: GPL-3.0-or-later
//
// The one way from text to JSON, for whatever comes from outside: files, the catalogue, a worker's answers.
// Depth and size are looked at before anything is built, because building nested values takes a hundred times
// the text, and taking them apart recurses.
#pragma once

#include <nlohmann/json.hpp>
#include <string_view>

namespace hr::processors {

inline constexpr std::size_t deepest_json = 64;                           ///< levels of lists and objects
inline constexpr std::size_t longest_json_bytes = std::size_t{256} << 20; ///< of any document

/// Whether lists and objects are nested by more than `levels`. Looks at brackets outside of strings only.
bool nestsDeeperThan(std::string_view text, std::size_t levels);

/// Discarded (is_discarded()) where it is not JSON, too long, or nested too deep.
nlohmann::json jsonFrom(std::string_view text, std::size_t most_bytes = longest_json_bytes);
nlohmann::ordered_json orderedJsonFrom(std::string_view text, std::size_t most_bytes = longest_json_bytes);

} // namespace hr::processors

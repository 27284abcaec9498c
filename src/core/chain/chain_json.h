// SPDX-License-Identifier: GPL-3.0-or-later
//
// A chain as JSON, in files and in the catalogue: version 2, docs/chain.schema.json. Version 1, which knew
// stages in a row and nothing else, is read for ever; its stages become the nodes "s1", "s2", …
#pragma once

#include "chain/chain.h"

#include <nlohmann/json.hpp>

namespace hr::chain {

inline constexpr const char* format_name = "honest-rack-chain";
inline constexpr int format_version = 2;

/// Without edges where the nodes follow one another.
nlohmann::ordered_json toJson(const Chain& chain);
/// In one line; what is not UTF-8 in it is replaced.
std::string toText(const Chain& chain);

/// Refuses what is not a chain, a newer version, values out of range and graphs that cannot run, naming the
/// stage or node.
Result<Chain> fromJson(const nlohmann::ordered_json& document);
/// The same for text that need not be JSON at all.
Result<Chain> fromText(const std::string& text);

} // namespace hr::chain

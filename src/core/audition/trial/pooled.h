// SPDX-License-Identifier: GPL-3.0-or-later
//
// Several ABX trials of the same two taken as one, where somebody asks for it.
#pragma once

#include <nlohmann/json.hpp>
#include <span>

namespace hr::audition {

/// Documents of trials, whoever answered and whenever; those of other kinds, and those without an answer, are
/// left out. {"trials", "stopped_early", "answered", "correct", "p_value", "interval_low", "interval_high",
/// "sentence"}, where the sentence says that they are pooled, and what that is worth; null where there are
/// fewer than two.
nlohmann::ordered_json pooledAbx(std::span<const nlohmann::ordered_json> trials);

} // namespace hr::audition

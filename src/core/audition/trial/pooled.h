// SPDX-License-Identifier: GPL-3.0-or-later
//
// Several trials of the same ones taken as one, where somebody asks for it.
#pragma once

#include <nlohmann/json.hpp>
#include <span>

namespace hr::audition {

/// Documents of trials, whoever answered and whenever. They are pooled with the first that has an answer: those
/// of another kind, of other candidates or settings, and those without an answer are left out; of ratings also
/// those of listeners that BS.1534 does not count. {"kind", "trials", "stopped_early", "answered", "sentence"}
/// and the figures of the kind, as of a single trial; candidates under the names that they have in the first.
/// The sentence says that they are pooled, and what that is worth. Null where there are fewer than two.
nlohmann::ordered_json pooledTrials(std::span<const nlohmann::ordered_json> trials);

} // namespace hr::audition

// SPDX-License-Identifier: GPL-3.0-or-later
//
// Times as note values at a tempo.
#pragma once

#include <optional>
#include <string>

namespace hr::processors {

/// "1/4", "1/8." (dotted) or "1/8t" (triplet) where `time_ms` is within 1 % of one from 1/1 to 1/64; a beat is
/// a quarter. Empty for none of them, and without a tempo.
std::optional<std::string> noteValue(double time_ms, double tempo_bpm);

} // namespace hr::processors

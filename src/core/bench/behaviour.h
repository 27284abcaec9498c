// SPDX-License-Identifier: GPL-3.0-or-later
//
// What kind of processor the readings look like, for one whose maker does not say.
#pragma once

#include "bench/reading.h"

namespace hr::bench {

/// One of the kinds of processors/kinds.h: by the in-out curve first (compressor, limiter, gate, expander,
/// saturation), then by distortion above 1 % (saturation), then by the response (a corner: filter; peaks or
/// notches: equaliser; none of it: utility). Empty where these tests were not run, and for echoes, rooms and
/// movements, which these tests do not tell from each other.
std::optional<std::string> behavesLike(const std::vector<std::pair<std::string, Reading>>& readings);

} // namespace hr::bench

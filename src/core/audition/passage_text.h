// SPDX-License-Identifier: GPL-3.0-or-later
//
// A part of a source as somebody types it.
#pragma once

#include "signal/result.h"

#include <string>

namespace hr::audition {

struct TypedPassage {
    double first_s = 0;
    double end_s = 0;
};

/// "2.5 to 6", "0:02.5 - 1:10", "bar 3 to bar 5" (from the beginning of the third bar of four beats to that of
/// the fifth; needs a tempo), "4" (to the end: `length_s`). What makes no sense, or lies outside the source, is
/// refused with a sentence.
Result<TypedPassage> passageFromText(const std::string& text, double length_s, double tempo_bpm);

} // namespace hr::audition

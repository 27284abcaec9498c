// SPDX-License-Identifier: GPL-3.0-or-later
//
// How far two processors are apart in one test, in what a listener can notice.
#pragma once

#include "bench/reading.h"

#include <optional>
#include <string>
#include <vector>

namespace hr::bench {

struct Apart {
    std::string test;
    double by = 0;         ///< in `unit`: RMS over the curve, or over the figures
    std::string unit;      ///< "dB", "%"
    double noticeable = 0; ///< of these many times what can just be noticed
    std::string note;      ///< "and 3.0 dB in level", "one of them has no attack time"
};

/// Tests that can be compared so: response, transfer, timing, harmonics.
const std::vector<std::string>& comparableTests();

/// Response: magnitudes from 20 Hz to 18 kHz or as far as both go, one drawn over the other as well as a level
/// can; transfer: the same of the in-out curves; what the level differs by counts for a tenth, since it is
/// matched where they are heard. Timing: attack and release as parts of each other. Harmonics: those above -80
/// dB in either. Empty where neither has what is compared.
std::optional<Apart> apart(const std::string& test, const Reading& one, const Reading& other);

/// Of several tests, the root of their mean square in what can be noticed.
double togetherApart(const std::vector<Apart>& tests);

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
//
// The checks of `trust`, each by itself: what a processor promises by being one, and whether it keeps it.
#pragma once

#include "bench/subject.h"

#include <optional>
#include <string>

namespace hr::bench {

enum class Verdict { Pass, Fail, NotApplicable };

struct CheckResult {
    Verdict verdict = Verdict::NotApplicable;
    std::optional<double> value = {}; ///< that decided it
    std::string detail = {}; ///< a sentence for a person; empty where it passed and nothing is to be said
};

using Checked = hosting::FaultOr<CheckResult>;

Checked checkFinite(const Subject& subject);
Checked checkRepeatable(const Subject& subject);
/// What is not repeatable cannot be compared: not applicable.
Checked checkBlockIndependent(const Subject& subject, const CheckResult& repeatable);
Checked checkSilentInSilentOut(const Subject& subject);
Checked checkLatencyHonest(const Subject& subject);
Checked checkBypassClean(const Subject& subject);
Checked checkLevelHonest(const Subject& subject);
Checked checkStateRestored(const Subject& subject, const CheckResult& repeatable);
Checked checkSurvivesExtremes(const Subject& subject);
Checked checkStableMemory(const Subject& subject);
/// By the figures of other tests: trust_figures.cpp, trust_labels.cpp.
Checked checkRateIndependent(const Subject& subject);
Checked checkLabelsHonest(const Subject& subject);

/// "1.234e-05"
std::string fourDigits(double value);

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
//
// When the bench was last measured against what is known, and what came of it: to be said beside readings.
#pragma once

#include "bench/selfcheck.h"
#include "library/store.h"

#include <optional>

namespace hr::library {

struct BenchCheck {
    QString bench_version;
    QString taken; ///< UTC, ISO 8601
    int passed = 0, failed = 0;
    std::vector<bench::Check> checks; ///< one by one

    bool isWithinLimits() const { return failed == 0 && passed > 0; }
    /// Whether it says anything of a reading that this version took.
    bool isOf(const QString& version) const { return bench_version == version; }
};

/// Of this version of the bench, now.
BenchCheck benchCheckOf(const std::vector<bench::Check>& checks);
Result<void> keepBenchCheck(Store& store, const BenchCheck& check);
/// Empty: there has been none, or what was kept makes no sense.
std::optional<BenchCheck> lastBenchCheck(const Store& store);

} // namespace hr::library

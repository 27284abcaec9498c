// SPDX-License-Identifier: GPL-3.0-or-later
//
// A candidate on the bench, and what is known of exactly the set-up it has now.
#pragma once

#include "bench/suite.h"
#include "library/runs.h"

#include <QString>
#include <algorithm>
#include <vector>

namespace hr::app {

struct MeasuredCandidate {
    int mark = 1; ///< gives colour, shape and letter
    QString title;
    QString set_up; ///< SetUp::key()
    std::vector<library::StoredReading> readings;
    bool measured_otherwise = false; ///< this processor, but not this
    bool of_another_build = false;   ///< at these settings
    bool under_others = false;       ///< exactly this, under other conditions

    static QString benchVersionOf(const library::StoredReading& reading)
    {
        return QString::fromStdString(reading.conditions.value("bench_version", std::string()));
    }
    /// Whether some of it was taken by another version of the bench than this.
    bool isOfAnotherBench() const
    {
        return std::ranges::any_of(readings, [](const library::StoredReading& one) {
            return benchVersionOf(one) != QString::fromStdString(bench::benchVersion());
        });
    }

    /// Null where the test has not been run.
    const bench::Reading* reading(const QString& test) const
    {
        const auto found = std::ranges::find(readings, test, &library::StoredReading::test);
        return found == readings.end() ? nullptr : &found->reading;
    }
};

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
//
// A candidate on the bench, and what is known of exactly the set-up it has now.
#pragma once

#include "library/runs.h"

#include <QString>
#include <algorithm>
#include <vector>

namespace hr::app {

struct Benched {
    int mark = 1; ///< gives colour, shape and letter
    QString title;
    QString set_up; ///< SetUp::key()
    std::vector<library::StoredReading> readings;
    bool measured_otherwise = false; ///< this processor, at other settings or of another build

    /// Null where the test has not been run.
    const bench::Reading* reading(const QString& test) const
    {
        const auto found = std::ranges::find(readings, test, &library::StoredReading::test);
        return found == readings.end() ? nullptr : &found->reading;
    }
};

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
//
// Figures side by side as a table for other programs: a row each, a column a candidate, all digits.
#pragma once

#include "bench/reading.h"

#include <functional>
#include <string>
#include <utility>
#include <vector>

namespace hr::exchange {

struct FiguresColumn {
    std::string title;
    std::function<const bench::Reading*(const std::string& test)> reading; ///< null: not measured
};

/// Rows by test and figure ("transfer", "ratio"; those of groups "at_100_hz.thd_db"). What does not exist, or
/// was not measured, is empty. RFC 4180; UTF-8.
std::string figuresCsv(const std::vector<std::pair<std::string, std::string>>& rows,
                       const std::vector<FiguresColumn>& columns);

} // namespace hr::exchange

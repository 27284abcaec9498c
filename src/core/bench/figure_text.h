// SPDX-License-Identifier: GPL-3.0-or-later
//
// Figures as people read them, the same in tables, pages and reports: real minus signs, the digits that their
// declarations ask for, lists cut to what fits.
#pragma once

#include "bench/figure.h"
#include "bench/reading.h"

#include <string>
#include <vector>

namespace hr::bench {

/// "−3.20"; never "−0.00".
std::string numberText(double value, int digits);

/// The figure under "key" or "group.key"; null where the reading has none of it.
const nlohmann::ordered_json* figureIn(const Reading& reading, const std::string& key);

/// What stands in a cell, without its unit; of a verdict the word, and what decided. Empty for null.
std::string valueText(const nlohmann::ordered_json& value, const FigureInfo& figure);
/// The same of one reading, with "≈" before it where it is unsure; "none" where it is null for a reason, empty
/// where it was not asked for.
std::string cellText(const Reading& reading, const std::string& key, const FigureInfo& figure);

/// "THD (at 100 Hz), %": the name, the group it stands in, and its unit where cells do not say it.
std::string titleOf(const std::string& test, const std::string& key, const FigureInfo& figure);

/// Keys of a test's figures in their order, those of groups as "group.key", as far as these readings know them.
std::vector<std::string> figureKeys(const std::string& test, const std::vector<const Reading*>& readings);

} // namespace hr::bench

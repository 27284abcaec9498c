// SPDX-License-Identifier: GPL-3.0-or-later
//
// Numbers as text and back, the same in every locale. Whatever the program or a library of its has set
// (setlocale(3)), files and plots are written with a point. For people's own digits see
// processors/value_text.h.
#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace hr::signal {

/// "2.50": so many digits behind the point, at most 20.
std::string fixedText(double value, int digits);

/// "2.5": so many digits that count, without zeros at the end.
std::string shortText(double value, int digits);

/// All of `text` as a finite number with a point, with or without a sign; empty where it is none.
std::optional<double> numberIn(std::string_view text);

/// The same as people type it: with spaces around it, a real minus sign, and a comma for the point where it
/// cannot mean anything else ("2,5"; but "1,250" may be over a thousand).
std::optional<double> typedNumber(std::string_view text);

/// The text with such a comma replaced; as it is where there is none.
std::string withPoint(std::string text);

} // namespace hr::signal

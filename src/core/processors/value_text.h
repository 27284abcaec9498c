// SPDX-License-Identifier: GPL-3.0-or-later
//
// Parameter values as people write and move them.
#pragma once

#include "processors/description.h"

#include <string>

namespace hr::processors {

/// With as many digits as its range makes sensible and a real minus sign, without the unit; the label
/// where the value is a named choice; "on" or "off" for a toggle.
std::string valueText(const ParameterInfo& parameter, double value);
/// The same with its unit: "−24.0 dB"; named choices have none.
std::string valueWithUnit(const ParameterInfo& parameter, double value);

/// What somebody typed: "-6", "−6 dB", "1k2", "1.2 kHz", "12 %", "0,5", the label of a choice, "on".
/// Empty where no sense can be made of it; the range is not looked at.
std::optional<double> parseValue(const ParameterInfo& parameter, const std::string& text);

/// Where on its track a value stands, 0 to 1, by its scale; and back, whole for whole scales.
double trackPosition(const ParameterInfo& parameter, double value);
double valueAt(const ParameterInfo& parameter, double position);

/// One step of an arrow key up (+1) or down (-1), inside the range; `fine` is a tenth of it.
double stepped(const ParameterInfo& parameter, double value, int direction, bool fine);

/// Whether the value is one of a few named ones rather than a place on a track.
bool hasNamedValues(const ParameterInfo& parameter);

} // namespace hr::processors

// SPDX-License-Identifier: GPL-3.0-or-later
//
// A request for parameter values against what a processor has.
#pragma once

#include "processors/description.h"
#include "signal/result.h"

namespace hr::processors {

/// All parameters at their defaults.
std::vector<double> defaultValues(const ProcessorInfo& info);

/// The values of `info.parameters` after `preset` (empty: the defaults) and then `settings`. Refuses,
/// never clamps: an unknown preset or key, and a value outside its range, are wrong requests.
Result<std::vector<double>> resolveSettings(const ProcessorInfo& info, const std::string& preset,
                                            const std::vector<Setting>& settings);

/// "KEY=VALUE" of the command line; VALUE is a number or the label of a choice.
Result<Setting> parseSetting(const ProcessorInfo& info, const std::string& text);

} // namespace hr::processors

// SPDX-License-Identifier: GPL-3.0-or-later
//
// A request for parameter values against what a processor has.
#pragma once

#include "processors/description.h"
#include "signal/result.h"

#include <map>
#include <random>
#include <set>
#include <span>

namespace hr::processors {

/// All parameters at their defaults.
std::vector<double> defaultValues(const ProcessorInfo& info);

/// The values of `info.parameters` after `preset` (empty: the defaults) and then `settings`. Refuses,
/// never clamps: an unknown preset or key, and a value outside its range, are wrong requests.
Result<std::vector<double>> resolveSettings(const ProcessorInfo& info, const std::string& preset,
                                            const std::vector<Setting>& settings);

/// The same without refusing: a key that is unknown is passed over, a value beyond what is stated is brought to
/// its end. For what was stored, and may be of another version.
std::vector<double> nearestValues(const ProcessorInfo& info, const std::vector<Setting>& settings);

/// Values of info.parameters by their keys, whether they differ from the defaults or not.
std::vector<Setting> settingsOf(const ProcessorInfo& info, std::span<const double> values);

/// What settings of one processor are as settings of another: those of the same key or, else, of the same name
/// and unit, each brought into its range. What has no counterpart is left out.
std::vector<Setting> carriedOver(const std::vector<Setting>& settings, const ProcessorInfo& from,
                                 const ProcessorInfo& to);

/// From and to of a parameter, by its place in the description.
using Limits = std::map<std::size_t, std::pair<double, double>>;

/// Each anywhere along its track, evenly, within its limits where it has any; those of `held`, and what is
/// hidden, as in `values`.
std::vector<double> randomValues(const ProcessorInfo& info, std::vector<double> values,
                                 const std::set<std::size_t>& held, const Limits& limits,
                                 std::mt19937_64& random);

/// "KEY=VALUE" of the command line; VALUE is a number or the label of a choice.
Result<Setting> parseSetting(const ProcessorInfo& info, const std::string& text);

} // namespace hr::processors

// SPDX-License-Identifier: GPL-3.0-or-later
//
// ProcessorInfo as JSON: what a worker answers, what the catalogue keeps, what `hrack show` prints.
#pragma once

#include "processors/description.h"
#include "signal/result.h"

#include <nlohmann/json.hpp>

namespace hr::processors {

nlohmann::ordered_json toJson(const ProcessorInfo& info);
nlohmann::ordered_json toJson(const ParameterInfo& parameter);

nlohmann::ordered_json toJson(const PresetInfo& preset);
Result<PresetInfo> presetFromJson(const nlohmann::json& json);

/// Refuses missing members, wrong types, numbers that are not finite and ranges that are empty.
Result<ProcessorInfo> processorInfoFromJson(const nlohmann::json& json);

} // namespace hr::processors

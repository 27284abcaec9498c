// SPDX-License-Identifier: GPL-3.0-or-later
//
// Fields of the documents of this folder, read from JSON: what is not there stays as it is, what is not as it
// has to be is an Error that names it, as the end of a sentence ("Stage 2 …").
#pragma once

#include "signal/result.h"

#include <nlohmann/json.hpp>

namespace hr::chain {

/// Empty where there is no text under `key`.
std::string textIn(const nlohmann::ordered_json& json, const char* key);
Result<void> readNumber(const nlohmann::ordered_json& json, const char* key, double low, double high,
                        double& value);
Result<void> readFlag(const nlohmann::ordered_json& json, const char* key, bool& value);

/// The first error of these, where there is one.
Result<void> all(std::initializer_list<Result<void>> results);

} // namespace hr::chain

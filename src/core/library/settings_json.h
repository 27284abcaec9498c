// SPDX-License-Identifier: GPL-3.0-or-later
//
// Parameter values as a JSON object, {"threshold_db": -24.0}: in the database and in files.
#pragma once

#include "processors/description.h"

#include <nlohmann/json.hpp>

namespace hr::library {

inline nlohmann::ordered_json settingsToJson(const std::vector<processors::Setting>& settings)
{
    auto json = nlohmann::ordered_json::object();
    for (const processors::Setting& s : settings)
        json[s.key] = s.value;
    return json;
}

/// Members that are not numbers are passed over.
inline std::vector<processors::Setting> settingsFromJson(const nlohmann::ordered_json& json)
{
    std::vector<processors::Setting> settings;
    if (json.is_object())
        for (const auto& [key, value] : json.items())
            if (value.is_number())
                settings.push_back({key, value.get<double>()});
    return settings;
}

} // namespace hr::library

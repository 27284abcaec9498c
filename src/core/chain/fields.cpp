// SPDX-License-Identifier: GPL-3.0-or-later
#include "chain/fields.h"

#include <algorithm>
#include <cmath>

namespace hr::chain {

using nlohmann::ordered_json;

std::string textIn(const ordered_json& json, const char* key)
{
    const auto found = json.find(key);
    return found != json.end() && found->is_string() ? found->get<std::string>() : std::string();
}

Result<void> readNumber(const ordered_json& json, const char* key, double low, double high, double& value)
{
    const auto found = json.find(key);
    if (found == json.end())
        return {};
    if (!found->is_number() || !(found->get<double>() >= low) || !(found->get<double>() <= high))
        return wrongRequest(std::string("has \"") + key + "\", which is no number from " +
                            std::to_string(std::lround(low)) + " to " + std::to_string(std::lround(high)));
    value = found->get<double>();
    return {};
}

Result<void> readFlag(const ordered_json& json, const char* key, bool& value)
{
    const auto found = json.find(key);
    if (found == json.end())
        return {};
    if (!found->is_boolean())
        return wrongRequest(std::string("has \"") + key + "\", which is neither true nor false");
    value = found->get<bool>();
    return {};
}

Result<void> all(std::initializer_list<Result<void>> results)
{
    const auto failed = std::ranges::find_if(results, [](const Result<void>& result) { return !result; });
    return failed == results.end() ? Result<void>() : *failed;
}

} // namespace hr::chain

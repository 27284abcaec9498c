// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/reading.h"

#include <algorithm>
#include <cmath>

namespace hr::bench {

using nlohmann::ordered_json;

void Reading::put(const std::string& key, std::optional<double> value, const std::string& reason_if_absent)
{
    if (value && std::isfinite(*value)) {
        figures[key] = *value;
    } else {
        figures[key] = nullptr;
        reasons[key] = reason_if_absent.empty() ? "there was nothing to measure" : reason_if_absent;
    }
}

void Reading::putGroup(const std::string& group, const Reading& of)
{
    figures[group] = of.figures;
    conditions[group] = of.conditions;
    for (const auto& [key, reason] : of.reasons)
        reasons[group + "." + key] = reason;
    for (Flag flag : of.flags) {
        for (std::string& key : flag.unsure)
            key = group + "." + key;
        flags.push_back(std::move(flag));
    }
}

std::string Reading::whyUnsure(const std::string& key) const
{
    std::string why;
    for (const Flag& flag : flags)
        if (std::ranges::find(flag.unsure, key) != flag.unsure.end())
            why += (why.empty() ? "" : "; ") + flag.detail;
    return why;
}

std::optional<double> Reading::number(const std::string& key) const
{
    const auto found = figures.find(key);
    return found != figures.end() && found->is_number() ? std::optional(found->get<double>()) : std::nullopt;
}

void putNone(Reading& reading, const std::vector<FigureInfo>& figures, const std::string& why)
{
    for (const FigureInfo& figure : figures)
        if (figure.shape == FigureShape::List)
            reading.figures[figure.key] = ordered_json::array();
        else
            reading.put(figure.key, std::nullopt, why);
}

ordered_json toJson(const Reading& reading)
{
    ordered_json json = reading.figures;
    if (!reading.reasons.empty())
        json["reasons"] = reading.reasons;
    if (!reading.conditions.empty())
        json["conditions"] = reading.conditions;
    ordered_json curves = ordered_json::object();
    for (const auto& [name, series] : reading.series)
        curves[name] = {{"x", series.x}, {"y", series.y}, {"points", series.points}};
    json["series"] = curves;
    return json;
}

ordered_json toJson(const Flag& flag)
{
    ordered_json json{{"code", flag.code}, {"detail", flag.detail}};
    if (!flag.unsure.empty())
        json["unsure"] = flag.unsure;
    return json;
}

Flag flagFromJson(const ordered_json& json)
{
    return {json.at("code"), json.at("detail"), json.value("unsure", std::vector<std::string>())};
}

ordered_json storedJson(const Reading& reading)
{
    ordered_json json = toJson(reading);
    for (const Flag& flag : reading.flags)
        json["flags"].push_back(toJson(flag));
    return json;
}

std::optional<Reading> readingFromJson(const ordered_json& json)
{
    if (!json.is_object())
        return std::nullopt;
    try { // nlohmann-json reports by exceptions; they end here
        Reading reading;
        for (const auto& [key, value] : json.items()) {
            if (key == "reasons")
                reading.reasons = value.get<std::map<std::string, std::string>>();
            else if (key == "conditions")
                reading.conditions = value;
            else if (key == "flags")
                for (const auto& flag : value)
                    reading.flags.push_back(flagFromJson(flag));
            else if (key == "series")
                for (const auto& [name, one] : value.items())
                    reading.series[name] = {one.at("x"), one.at("y"), one.at("points")};
            else
                reading.figures[key] = value;
        }
        return reading;
    } catch (const ordered_json::exception&) {
        return std::nullopt;
    }
}

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
#include "chain/chain.h"

#include "processors/settings.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace hr::chain {

using nlohmann::ordered_json;
using processors::KeySource;
using processors::Series;

namespace {

constexpr std::array<std::pair<KeySource, const char*>, 3> key_words{
    {{KeySource::None, "none"}, {KeySource::Own, "own"}, {KeySource::Chain, "chain"}}};

std::string stageName(std::size_t index)
{
    return "Stage " + std::to_string(index + 1);
}

/// A number of the stage between two bounds, or its default where it is not given.
Result<double> numberIn(const ordered_json& json, const char* key, double low, double high, double fallback)
{
    if (!json.contains(key))
        return fallback;
    if (!json[key].is_number() || !(json[key].get<double>() >= low) || !(json[key].get<double>() <= high))
        return wrongRequest(std::string("\"") + key + "\" must be a number from " +
                            std::to_string(std::lround(low)) + " to " + std::to_string(std::lround(high)));
    return json[key].get<double>();
}

std::string textIn(const ordered_json& json, const char* key)
{
    return json.contains(key) && json[key].is_string() ? json[key].get<std::string>() : std::string();
}

Result<Stage> stageFromJson(const ordered_json& json)
{
    if (!json.is_object() || textIn(json, "id").empty())
        return wrongRequest("has no \"id\"");
    Stage stage;
    stage.id = textIn(json, "id");
    stage.name = textIn(json, "name");
    stage.preset = textIn(json, "preset");
    stage.purpose = textIn(json, "purpose");
    if (json.contains("on")) {
        if (!json["on"].is_boolean())
            return wrongRequest("has an \"on\" that is neither true nor false");
        stage.on = json["on"].get<bool>();
    }
    const auto blend = numberIn(json, "blend_percent", 0, 100, 100);
    const auto trim = numberIn(json, "trim_db", -60, 24, 0);
    if (!blend || !trim)
        return wrongRequest((blend ? trim : blend).error().text);
    stage.blend_percent = *blend;
    stage.trim_db = *trim;
    if (json.contains("key")) {
        const auto found = std::ranges::find(key_words, textIn(json, "key"),
                                             [](const auto& entry) { return std::string(entry.second); });
        if (found == key_words.end())
            return wrongRequest("has a \"key\" that is none of none, own and chain");
        stage.key = found->first;
    }
    if (json.contains("settings")) {
        if (!json["settings"].is_object())
            return wrongRequest("has \"settings\" that are no object");
        for (const auto& [key, value] : json["settings"].items()) {
            if (!value.is_number())
                return wrongRequest("has a setting \"" + key + "\" that is no number");
            stage.settings.push_back({key, value.get<double>()});
        }
    }
    return stage;
}

/// What the stage adds to the settings of the whole.
std::vector<processors::Setting> wholeSettings(const Stage& stage, const std::string& prefix, bool has_key)
{
    std::vector<processors::Setting> settings{{prefix + "on", stage.on ? 1.0 : 0.0},
                                              {prefix + "blend_percent", stage.blend_percent},
                                              {prefix + "trim_db", stage.trim_db}};
    if (has_key)
        settings.push_back({prefix + "key", static_cast<double>(stage.key)});
    for (const auto& [key, value] : stage.settings)
        settings.push_back({prefix + key, value});
    return settings;
}

} // namespace

ordered_json toJson(const Chain& chain)
{
    ordered_json stages = ordered_json::array();
    for (const Stage& stage : chain.stages) {
        ordered_json settings = ordered_json::object();
        for (const auto& [key, value] : stage.settings)
            settings[key] = value;
        const auto key = std::ranges::find(key_words, stage.key, [](const auto& entry) { return entry.first; });
        stages.push_back({{"id", stage.id},
                          {"name", stage.name},
                          {"purpose", stage.purpose},
                          {"preset", stage.preset},
                          {"settings", settings},
                          {"on", stage.on},
                          {"blend_percent", stage.blend_percent},
                          {"trim_db", stage.trim_db},
                          {"key", key->second}});
    }
    return {{"format", format_name}, {"version", format_version}, {"name", chain.name}, {"stages", stages}};
}

std::string toText(const Chain& chain)
{
    return toJson(chain).dump(-1, ' ', false, nlohmann::json::error_handler_t::replace);
}

Result<Chain> fromJson(const ordered_json& document)
{
    if (!document.is_object() || textIn(document, "format") != format_name)
        return wrongRequest("It is no chain of Honest Rack: its \"format\" is not \"honest-rack-chain\".");
    if (document.value("version", ordered_json()) != format_version)
        return wrongRequest("It was written by another version of Honest Rack: this one reads version 1.");
    const auto& list = document.value("stages", ordered_json());
    if (!list.is_array() || list.empty())
        return wrongRequest("It is damaged: it has no list of stages.");
    if (list.size() > Series::most_stages)
        return wrongRequest("It has " + std::to_string(list.size()) + " stages; a chain has at most " +
                            std::to_string(Series::most_stages) + ".");
    Chain chain{textIn(document, "name"), {}};
    for (std::size_t i = 0; i < list.size(); ++i) {
        auto stage = stageFromJson(list[i]);
        if (!stage)
            return wrongRequest(stageName(i) + " " + stage.error().text + ".");
        chain.stages.push_back(std::move(*stage));
    }
    return chain;
}

Placed place(const Chain& chain, const std::function<Result<hosting::Location>(const std::string& id)>& find)
{
    Placed placed;
    placed.location.id = "chain:" + chain.name;
    for (const Stage& stage : chain.stages) {
        auto location = find(stage.id);
        if (!location)
            placed.missing.push_back(stage.id);
        placed.location.stages.push_back(location ? *location : hosting::Location{stage.id, {}});
        placed.location.stages.back().preset = stage.preset;
    }
    return placed;
}

Result<std::vector<double>> values(const Chain& chain, const processors::ProcessorInfo& info)
{
    std::vector<double> all = processors::defaultValues(info);
    for (std::size_t i = 0; i < chain.stages.size(); ++i) {
        Stage stage = chain.stages[i];
        const std::string prefix = std::to_string(i + 1) + ".";
        const auto own =
            std::ranges::count_if(info.parameters, [&](const auto& p) { return p.key.starts_with(prefix); });
        const bool has_key = info.parameterIndex(prefix + "key").has_value();
        if (own <= 3 && std::ranges::none_of(info.presets, [&](const auto& preset) {
                return preset.name.starts_with(prefix);
            })) {
            stage.settings.clear(); // missing, or without parameters of its own
            stage.preset.clear();
        }
        auto resolved = processors::resolveSettings(info, stage.preset.empty() ? "" : prefix + stage.preset,
                                                    wholeSettings(stage, prefix, has_key));
        if (!resolved)
            return wrongRequest(stageName(i) + ", " + stage.id + ": " + resolved.error().text);
        for (std::size_t p = 0; p < all.size(); ++p)
            if (info.parameters[p].key.starts_with(prefix))
                all[p] = (*resolved)[p];
    }
    return all;
}

Chain with(Chain chain, const processors::ProcessorInfo& info, std::span<const double> values)
{
    for (std::size_t i = 0; i < chain.stages.size(); ++i) {
        Stage& stage = chain.stages[i];
        const std::string prefix = std::to_string(i + 1) + ".";
        for (std::size_t p = 0; p < values.size(); ++p) {
            if (!info.parameters[p].key.starts_with(prefix))
                continue;
            const std::string key = info.parameters[p].key.substr(prefix.size());
            const auto own = std::ranges::find(stage.settings, key, &processors::Setting::key);
            if (key == "on")
                stage.on = values[p] >= 0.5;
            else if (key == "blend_percent")
                stage.blend_percent = values[p];
            else if (key == "trim_db")
                stage.trim_db = values[p];
            else if (key == "key")
                stage.key = static_cast<KeySource>(std::lround(values[p]));
            else if (own != stage.settings.end())
                own->value = values[p];
            else
                stage.settings.push_back({key, values[p]});
        }
    }
    return chain;
}

} // namespace hr::chain

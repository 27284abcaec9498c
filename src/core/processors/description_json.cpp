// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/description_json.h"

#include <array>
#include <cmath>

namespace hr::processors {

using nlohmann::json;
using nlohmann::ordered_json;

namespace {

constexpr std::array<std::pair<Scale, const char*>, 5> scale_words{{{Scale::Linear, "linear"},
                                                                    {Scale::Logarithmic, "logarithmic"},
                                                                    {Scale::Integer, "integer"},
                                                                    {Scale::Toggle, "toggle"},
                                                                    {Scale::Choice, "choice"}}};

const char* word(Scale scale)
{
    for (const auto& [value, text] : scale_words)
        if (value == scale)
            return text;
    return "linear";
}

Scale scaleOf(const std::string& text)
{
    for (const auto& [value, name] : scale_words)
        if (name == text)
            return value;
    throw std::invalid_argument("unknown scale \"" + text + "\"");
}

ParameterInfo parameterFromJson(const json& from)
{
    ParameterInfo p;
    p.key = from.at("key");
    p.name = from.at("name");
    p.unit = from.at("unit");
    p.minimum = from.at("minimum");
    p.maximum = from.at("maximum");
    p.default_value = from.at("default");
    p.scale = scaleOf(from.at("scale"));
    p.comment = from.value("comment", "");
    p.hidden = from.value("hidden", false);
    p.scales_with_rate = from.value("scales_with_rate", false);
    for (const json& choice : from.at("choices"))
        p.choices.push_back({choice.at("value"), choice.at("label")});
    if (!(p.minimum <= p.default_value && p.default_value <= p.maximum))
        throw std::invalid_argument("parameter \"" + p.key + "\" has no valid range");
    return p;
}

} // namespace

ordered_json toJson(const ParameterInfo& p)
{
    ordered_json choices = ordered_json::array();
    for (const Choice& choice : p.choices)
        choices.push_back({{"value", choice.value}, {"label", choice.label}});
    return {{"key", p.key},
            {"name", p.name},
            {"unit", p.unit},
            {"minimum", p.minimum},
            {"maximum", p.maximum},
            {"default", p.default_value},
            {"choices", choices},
            {"scale", word(p.scale)},
            {"comment", p.comment},
            {"hidden", p.hidden},
            {"scales_with_rate", p.scales_with_rate}};
}

ordered_json toJson(const PresetInfo& preset)
{
    ordered_json values = ordered_json::object();
    for (const auto& [key, value] : preset.values)
        values[key] = value;
    return {{"name", preset.name}, {"id", preset.id}, {"values", values}, {"bank", preset.bank}};
}

Result<PresetInfo> presetFromJson(const json& from)
{
    try {
        PresetInfo preset{from.at("name"), from.at("id"), {}};
        for (const auto& [key, value] : from.at("values").get<json::object_t>())
            preset.values.emplace_back(key, value.get<double>());
        preset.bank = from.value("bank", std::string());
        return preset;
    } catch (const std::exception& e) {
        return wrongRequest(std::string("The description of a preset is not valid: ") + e.what());
    }
}

ordered_json toJson(const ProcessorInfo& info)
{
    ordered_json parameters = ordered_json::array();
    for (const ParameterInfo& p : info.parameters)
        parameters.push_back(toJson(p));
    ordered_json presets = ordered_json::array();
    for (const PresetInfo& preset : info.presets)
        presets.push_back(toJson(preset));
    return {{"id", info.id},
            {"name", info.name},
            {"maker", info.maker},
            {"kind", info.kind},
            {"format", info.format},
            {"version", info.version},
            {"documentation", info.documentation},
            {"links", info.links},
            {"audio_in", info.audio_in},
            {"audio_out", info.audio_out},
            {"has_key_input", info.key_in > 0},
            {"key_in", info.key_in},
            {"parameters", parameters},
            {"presets", presets}};
}

Result<ProcessorInfo> processorInfoFromJson(const json& from)
{
    try { // nlohmann-json reports by exceptions; they end here
        ProcessorInfo info;
        info.id = from.at("id");
        info.name = from.at("name");
        info.maker = from.at("maker");
        info.kind = from.at("kind");
        info.format = from.at("format");
        info.version = from.at("version");
        info.documentation = from.at("documentation");
        info.links = from.value("links", std::vector<std::string>());
        info.audio_in = from.at("audio_in");
        info.audio_out = from.at("audio_out");
        info.key_in = from.at("key_in");
        for (const json& p : from.at("parameters"))
            info.parameters.push_back(parameterFromJson(p));
        for (const json& preset : from.at("presets")) {
            auto one = presetFromJson(preset);
            if (!one)
                return tl::make_unexpected(one.error());
            info.presets.push_back(std::move(*one));
        }
        return info;
    } catch (const std::exception& e) {
        return wrongRequest(std::string("The description of a processor is not valid: ") + e.what());
    }
}

} // namespace hr::processors

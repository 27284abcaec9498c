// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/description_json.h"

#include "processors/plain_text.h"
#include "processors/processor.h"
#include "processors/states.h"

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

// More than these nobody chooses among.
constexpr std::size_t most_parameters = 4096;
constexpr std::size_t most_choices = 4096;
constexpr std::size_t most_presets = 8192;
constexpr std::size_t most_links = 32;

/// The first elements of a list.
json firstOf(const json& list, std::size_t most)
{
    json::array_t all = list.get<json::array_t>();
    if (all.size() > most)
        all.resize(most);
    return all;
}

ParameterInfo parameterFromJson(const json& from)
{
    ParameterInfo p;
    p.key = plainText(from.at("key").get<std::string>(), longest_id);
    p.name = plainText(from.at("name").get<std::string>(), longest_name);
    p.unit = plainText(from.at("unit").get<std::string>(), longest_unit);
    p.minimum = from.at("minimum");
    p.maximum = from.at("maximum");
    p.default_value = from.at("default");
    p.scale = scaleOf(from.at("scale"));
    p.comment = plainText(from.value("comment", ""), longest_document, Lines::Many);
    p.hidden = from.value("hidden", false);
    p.scales_with_rate = from.value("scales_with_rate", false);
    p.enables = from.value("enables", false);
    p.minimum_stated = from.value("minimum_stated", true);
    p.maximum_stated = from.value("maximum_stated", true);
    for (const json& choice : firstOf(from.at("choices"), most_choices))
        p.choices.push_back(
            {choice.at("value"), plainText(choice.at("label").get<std::string>(), longest_name)});
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
            {"stated", p.isStated()},
            {"minimum_stated", p.minimum_stated},
            {"maximum_stated", p.maximum_stated},
            {"choices", choices},
            {"scale", word(p.scale)},
            {"comment", p.comment},
            {"hidden", p.hidden},
            {"scales_with_rate", p.scales_with_rate},
            {"enables", p.enables}};
}

ordered_json toJson(const PresetInfo& preset)
{
    ordered_json values = ordered_json::object();
    for (const auto& [key, value] : preset.values)
        values[key] = value;
    ordered_json all{{"name", preset.name}, {"id", preset.id}, {"values", values}, {"bank", preset.bank}};
    if (!preset.state.empty())
        all["state"] = base64(preset.state);
    return all;
}

Result<PresetInfo> presetFromJson(const json& from)
{
    try {
        PresetInfo preset{plainText(from.at("name").get<std::string>(), longest_name),
                          plainText(from.at("id").get<std::string>(), longest_id),
                          {}};
        for (const auto& [key, value] : from.at("values").get<json::object_t>())
            preset.values.emplace_back(plainText(key, longest_id), value.get<double>());
        preset.bank = plainText(from.value("bank", std::string()), longest_name);
        const auto state = fromBase64(from.value("state", std::string()));
        if (!state || state->size() > longest_state_bytes)
            return wrongRequest("The description of a preset is not valid: its state cannot be read");
        preset.state = *state;
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
            {"kind_proposed", info.kind_proposed},
            {"classes", info.classes},
            {"label", info.label},
            {"unique_id", info.unique_id},
            {"format", info.format},
            {"version", info.version},
            {"documentation", info.documentation},
            {"links", info.links},
            {"audio_in", info.audio_in},
            {"audio_out", info.audio_out},
            {"has_key_input", info.key_in > 0},
            {"key_in", info.key_in},
            {"takes_tempo", info.takes_tempo},
            {"parameters", parameters},
            {"presets", presets}};
}

Result<ProcessorInfo> processorInfoFromJson(const json& from)
{
    try { // nlohmann-json reports by exceptions; they end here
        ProcessorInfo info;
        const auto text = [&](const char* key, std::size_t most) {
            return plainText(from.at(key).get<std::string>(), most);
        };
        info.id = text("id", longest_id);
        info.name = text("name", longest_name);
        info.maker = text("maker", longest_name);
        info.kind = text("kind", longest_name);
        info.kind_proposed = from.value("kind_proposed", false);
        info.classes = from.value("classes", std::vector<std::string>());
        info.label = plainText(from.value("label", std::string()), longest_name);
        info.unique_id = from.value("unique_id", 0UL);
        info.format = text("format", longest_name);
        info.version = text("version", longest_name);
        info.documentation =
            plainText(from.at("documentation").get<std::string>(), longest_document, Lines::Many);
        for (const json& link : firstOf(from.value("links", json::array()), most_links))
            info.links.push_back(plainText(link.get<std::string>(), longest_id));
        info.audio_in = from.at("audio_in");
        info.audio_out = from.at("audio_out");
        info.key_in = from.at("key_in");
        info.takes_tempo = from.value("takes_tempo", false);
        if (from.at("parameters").size() > most_parameters)
            return wrongRequest("The description of a processor is not valid: it has more than " +
                                std::to_string(most_parameters) + " parameters");
        for (const json& p : from.at("parameters"))
            info.parameters.push_back(parameterFromJson(p));
        for (const json& preset : firstOf(from.at("presets"), most_presets)) {
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

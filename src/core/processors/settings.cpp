// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/settings.h"

#include "processors/value_text.h"

#include <algorithm>
#include <cctype>
#include <charconv>
#include <cmath>
#include <sstream>

namespace hr::processors {

namespace {

/// "Attack time" and "attack-time" are one name.
std::string lettersOf(const std::string& name)
{
    std::string letters;
    for (const char c : name)
        if (std::isalnum(static_cast<unsigned char>(c)) != 0)
            letters += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    return letters;
}

std::string shortNumber(double value)
{
    std::ostringstream text;
    text << value;
    return text.str();
}

std::string namesOf(const ProcessorInfo& info)
{
    std::string names;
    for (const ParameterInfo& p : info.parameters)
        names += (names.empty() ? "" : ", ") + p.key;
    return names.empty() ? "it has none" : "it has " + names;
}

std::string rangeOf(const ParameterInfo& p)
{
    const std::string unit = p.unit.empty() ? "" : " " + p.unit;
    if (!p.minimum_stated)
        return "it is at most " + shortNumber(p.maximum) + unit;
    if (!p.maximum_stated)
        return "it is at least " + shortNumber(p.minimum) + unit;
    return "its range is " + shortNumber(p.minimum) + " to " + shortNumber(p.maximum) + unit;
}

Result<void> put(const ProcessorInfo& info, std::vector<double>& values, const Setting& setting)
{
    const auto index = info.parameterIndex(setting.key);
    if (!index)
        return wrongRequest(info.id + " has no parameter \"" + setting.key + "\": " + namesOf(info) + ".");
    const ParameterInfo& p = info.parameters[*index];
    // Values are handed over as 32-bit float, so a bound that is exact in the file may differ in the last bit.
    const double slack = 1e-6 * std::max(std::abs(p.minimum), std::abs(p.maximum));
    if (!std::isfinite(setting.value) || std::abs(p.allowed(setting.value) - setting.value) > slack)
        return wrongRequest("Parameter \"" + p.key + "\" of " + info.id + " cannot be " +
                            shortNumber(setting.value) + ": " + rangeOf(p) + ".");
    const bool listed = std::ranges::any_of(
        p.choices, [&](const Choice& c) { return std::abs(c.value - setting.value) < 1e-6; });
    if (p.scale == Scale::Choice && !listed)
        return wrongRequest("Parameter \"" + p.key + "\" of " + info.id + " has no choice " +
                            shortNumber(setting.value) + ".");
    const bool whole = setting.value == std::round(setting.value);
    if ((p.scale == Scale::Integer || p.scale == Scale::Toggle) && !whole)
        return wrongRequest("Parameter \"" + p.key + "\" of " + info.id + " takes whole numbers, not " +
                            shortNumber(setting.value) + ".");
    values[*index] = p.allowed(setting.value);
    return {};
}

} // namespace

std::vector<double> defaultValues(const ProcessorInfo& info)
{
    std::vector<double> values;
    for (const ParameterInfo& p : info.parameters)
        values.push_back(p.default_value);
    return values;
}

Result<std::vector<double>> resolveSettings(const ProcessorInfo& info, const std::string& preset,
                                            const std::vector<Setting>& settings)
{
    std::vector<double> values = defaultValues(info);
    if (!preset.empty()) {
        const auto found = std::ranges::find(info.presets, preset, &PresetInfo::name);
        if (found == info.presets.end())
            return wrongRequest(info.id + " has no preset \"" + preset + "\".");
        for (const auto& [key, value] : found->values)
            if (auto done = put(info, values, {key, value}); !done)
                return tl::make_unexpected(done.error());
    }
    for (const Setting& setting : settings)
        if (auto done = put(info, values, setting); !done)
            return tl::make_unexpected(done.error());
    return values;
}

std::vector<double> nearestValues(const ProcessorInfo& info, const std::vector<Setting>& settings)
{
    std::vector<double> values = defaultValues(info);
    for (const Setting& setting : settings)
        if (const auto index = info.parameterIndex(setting.key))
            values[*index] = info.parameters[*index].allowed(setting.value);
    return values;
}

std::vector<Setting> settingsOf(const ProcessorInfo& info, std::span<const double> values)
{
    std::vector<Setting> settings;
    for (std::size_t i = 0; i < std::min(values.size(), info.parameters.size()); ++i)
        settings.push_back({info.parameters[i].key, values[i]});
    return settings;
}

std::vector<Setting> carriedOver(const std::vector<Setting>& settings, const ProcessorInfo& from,
                                 const ProcessorInfo& to)
{
    const auto counterpart = [&](const std::string& key) -> const ParameterInfo* {
        const auto own = from.parameterIndex(key);
        if (!own)
            return nullptr;
        const ParameterInfo& p = from.parameters[*own];
        const ParameterInfo* found = nullptr;
        for (const ParameterInfo& other : to.parameters) {
            if (other.unit != p.unit || other.choices.size() != p.choices.size())
                continue; // the same number would mean something else
            if (other.key == key)
                return &other;
            if (!found && lettersOf(other.name) == lettersOf(p.name))
                found = &other;
        }
        return found;
    };
    std::vector<Setting> carried;
    for (const Setting& setting : settings)
        if (const ParameterInfo* p = counterpart(setting.key))
            carried.push_back({p->key, p->allowed(setting.value)});
    return carried;
}

std::vector<double> randomValues(const ProcessorInfo& info, std::vector<double> values,
                                 const std::set<std::size_t>& held, const Limits& limits,
                                 std::mt19937_64& random)
{
    for (std::size_t i = 0; i < values.size(); ++i) {
        const ParameterInfo& p = info.parameters[i];
        if (p.hidden || held.contains(i))
            continue;
        const auto limited = limits.find(i);
        if (p.choices.empty()) {
            const auto [from, to] = limited == limits.end() ? std::pair(p.minimum, p.maximum) : limited->second;
            std::uniform_real_distribution<double> position(trackPosition(p, from), trackPosition(p, to));
            values[i] = valueAt(p, position(random));
            continue;
        }
        std::vector<double> choices;
        for (const Choice& choice : p.choices)
            if (limited == limits.end() ||
                (choice.value >= limited->second.first && choice.value <= limited->second.second))
                choices.push_back(choice.value);
        if (!choices.empty())
            values[i] = choices[std::uniform_int_distribution<std::size_t>(0, choices.size() - 1)(random)];
    }
    return values;
}

Result<Setting> parseSetting(const ProcessorInfo& info, const std::string& text)
{
    // LADSPA's control names may hold "=" themselves, values never do.
    const auto equals = text.rfind('=');
    if (equals == std::string::npos || equals == 0)
        return wrongRequest("\"" + text + "\" is not a setting: write KEY=VALUE.");
    Setting setting{text.substr(0, equals), 0};
    const std::string value = text.substr(equals + 1);
    if (const auto index = info.parameterIndex(setting.key))
        for (const Choice& choice : info.parameters[*index].choices)
            if (choice.label == value)
                return Setting{setting.key, choice.value};
    const auto [end, failed] = std::from_chars(value.data(), value.data() + value.size(), setting.value);
    if (failed != std::errc() || end != value.data() + value.size() || !std::isfinite(setting.value))
        return wrongRequest("\"" + value + "\" in \"" + text + "\" is not a number.");
    return setting;
}

} // namespace hr::processors

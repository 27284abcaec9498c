// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/figure_text.h"

#include "bench/suite.h"
#include "signal/number_text.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <sstream>

namespace hr::bench {

using nlohmann::ordered_json;

namespace {

constexpr std::size_t most_items = 3; // of a list, in a cell
constexpr const char* minus = "\u2212";
constexpr double least_told_db = -150;
constexpr double absent_dbfs = -200; // what checks give where there is nothing at all

std::string verdictText(const ordered_json& verdict, const FigureInfo& figure)
{
    const auto result = verdict.value("result", std::string());
    std::string word = result == "pass" || result == "fail" ? result : "does not apply";
    const bool decided = !figure.unit.empty() && verdict.contains("value") && verdict["value"].is_number();
    if (!decided)
        return word;
    const double value = verdict["value"].get<double>();
    const bool is_nothing = figure.unit == "dBFS" && value <= absent_dbfs;
    return word + " · " + (is_nothing ? std::string(minus) + "∞" : numberText(value, figure.digits)) + ' ' +
           figure.unit;
}

/// A distortion too small for its digits says so instead of pretending to be nothing; a level below what 32-bit
/// numbers can tell does not pretend to be known.
std::string sizedText(double value, const FigureInfo& figure)
{
    const double least = std::pow(10.0, -figure.digits);
    if (figure.unit == "%" && value > 0 && value < least)
        return "< " + numberText(least, figure.digits);
    if (figure.unit.starts_with("dB") && value < least_told_db)
        return "< " + numberText(least_told_db, 0);
    return numberText(value, figure.digits);
}

std::string unitIn(const std::string& key)
{
    for (const auto& [ending, unit] : {std::pair("_hz", " Hz"), {"_db", " dB"}, {"_ms", " ms"}})
        if (key.ends_with(ending))
            return unit;
    std::string name = key;
    std::ranges::transform(name, name.begin(), [](unsigned char c) { return std::toupper(c); });
    return ' ' + name;
}

std::string itemText(const ordered_json& item, const FigureInfo& figure)
{
    if (item.is_number())
        return sizedText(item.get<double>(), figure);
    if (!item.is_object())
        return "–";
    std::string text;
    for (const auto& [key, value] : item.items())
        if (value.is_number())
            text += (text.empty() ? "" : " · ") +
                    numberText(value.get<double>(), key.ends_with("_hz") ? 1 : 2) + unitIn(key);
    return text;
}

std::string listText(const ordered_json& list, const FigureInfo& figure)
{
    std::string text;
    for (std::size_t i = 0; i < std::min(most_items, list.size()); ++i)
        text += (i == 0 ? "" : ";  ") + itemText(list[i], figure);
    return list.size() > most_items ? text + ";  " + std::to_string(list.size() - most_items) + " more" : text;
}

} // namespace

std::string numberText(double value, int digits)
{
    const std::string text = signal::fixedText(std::abs(value), digits);
    const bool zero = text.find_first_of("123456789in") == std::string::npos; // also "inf" and "nan"
    return value < 0 && !zero ? minus + text : text;
}

const ordered_json* figureIn(const Reading& reading, const std::string& key)
{
    const ordered_json* at = &reading.figures;
    std::istringstream parts(key);
    for (std::string part; std::getline(parts, part, '.');) {
        if (!at->is_object() || !at->contains(part))
            return nullptr;
        at = &(*at)[part];
    }
    return at;
}

std::string valueText(const ordered_json& value, const FigureInfo& figure)
{
    switch (figure.shape) {
    case FigureShape::Verdict:
        return value.is_object() ? verdictText(value, figure) : std::string();
    case FigureShape::List:
        return value.empty() ? "none" : listText(value, figure);
    case FigureShape::YesNo:
        return value.is_boolean() && value.get<bool>() ? "yes" : "no";
    case FigureShape::Word:
        return value.is_string() ? value.get<std::string>() : std::string();
    default:
        return value.is_number() ? sizedText(value.get<double>(), figure) : std::string();
    }
}

std::string cellText(const Reading& reading, const std::string& key, const FigureInfo& figure)
{
    const ordered_json* value = figureIn(reading, key);
    if (value && !value->is_null())
        return (reading.whyUnsure(key).empty() ? "" : "≈ ") + valueText(*value, figure);
    return reading.reasons.contains(key) ? "none" : std::string();
}

std::string titleOf(const std::string& test, const std::string& key, const FigureInfo& figure)
{
    std::string title = figure.name;
    if (const auto dot = key.rfind('.'); dot != std::string::npos)
        if (const FigureInfo* group = figureInfo(test, key.substr(0, dot)))
            title += " (" + group->name + ')';
    const bool in_cells = figure.unit.empty() || figure.shape == FigureShape::Verdict;
    return in_cells ? title : title + ", " + figure.unit;
}

std::vector<std::string> figureKeys(const std::string& test, const std::vector<const Reading*>& readings)
{
    std::vector<std::string> keys;
    const auto found = std::ranges::find(allTests(), test, &TestInfo::key);
    if (found == allTests().end())
        return keys;
    for (const FigureInfo& figure : found->figures()) {
        if (figure.shape != FigureShape::Numbers) {
            keys.push_back(figure.key);
            continue;
        }
        // What a group holds is known from the readings alone.
        for (const Reading* reading : readings)
            if (const ordered_json* group = figureIn(*reading, figure.key); group && group->is_object())
                for (const auto& [inner, value] : group->items())
                    if (const std::string key = figure.key + '.' + inner;
                        std::ranges::find(keys, key) == keys.end())
                        keys.push_back(key);
    }
    // Where there are only groups, and none has anything, they stand for themselves.
    if (keys.empty())
        for (const FigureInfo& figure : found->figures())
            keys.push_back(figure.key);
    return keys;
}

} // namespace hr::bench

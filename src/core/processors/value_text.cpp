// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/value_text.h"

#include "signal/number_text.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>

namespace hr::processors {

namespace {

constexpr double steps_on_a_track = 100;

void replaceAll(std::string& text, const std::string& what, const std::string& with)
{
    for (std::size_t at = 0; (at = text.find(what, at)) != std::string::npos; at += with.size())
        text.replace(at, what.size(), with);
}

std::string lower(std::string text)
{
    std::ranges::transform(text, text.begin(),
                           [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return text;
}

/// Spaces gone, one kind of minus, a point for the comma where it stands for one, lower case.
std::string tidied(std::string text)
{
    replaceAll(text, "\u2212", "-");
    std::erase_if(text, [](unsigned char c) { return std::isspace(c) != 0; });
    return lower(signal::withPoint(std::move(text)));
}

bool isWhole(const ParameterInfo& p)
{
    return p.scale == Scale::Integer || p.scale == Scale::Toggle;
}

/// Digits behind the point so that a step of the track shows.
int digitsFor(const ParameterInfo& p, double value)
{
    if (isWhole(p))
        return 0;
    const double size = p.scale == Scale::Logarithmic ? std::abs(value) : (p.maximum - p.minimum) / 10;
    return size >= 100 ? 0 : size >= 1 ? 1 : size >= 0.1 ? 2 : 3;
}

/// "1k2" is 1200: k stands for the point.
std::optional<double> withKilo(const std::string& text)
{
    const auto k = text.find('k');
    if (k == std::string::npos || k == 0)
        return std::nullopt;
    const std::string behind = text.substr(k + 1);
    if (!std::ranges::all_of(behind, [](unsigned char c) { return std::isdigit(c) != 0; }))
        return std::nullopt;
    std::string digits = text.substr(0, k);
    if (!behind.empty() && digits.find('.') == std::string::npos)
        digits += '.' + behind;
    const auto value = signal::numberIn(digits);
    return value ? std::optional(*value * 1000) : std::nullopt;
}

} // namespace

bool hasNamedValues(const ParameterInfo& p)
{
    return p.scale == Scale::Toggle || (p.scale == Scale::Choice && !p.choices.empty());
}

std::string valueText(const ParameterInfo& p, double value)
{
    for (const Choice& choice : p.choices)
        if (std::abs(choice.value - value) < 1e-6)
            return choice.label;
    if (p.scale == Scale::Toggle)
        return value > 0 ? "on" : "off";
    std::string shown = signal::fixedText(value, digitsFor(p, value));
    if (shown.starts_with("-") && shown.find_first_not_of("-0.") == std::string::npos)
        shown.erase(0, 1); // no "-0.0"
    replaceAll(shown, "-", "\u2212");
    return shown;
}

std::string valueWithUnit(const ParameterInfo& p, double value)
{
    const std::string text = valueText(p, value);
    return p.unit.empty() || hasNamedValues(p) ? text : text + ' ' + p.unit;
}

std::optional<double> parseValue(const ParameterInfo& p, const std::string& typed)
{
    const std::string text = tidied(typed);
    for (const Choice& choice : p.choices)
        if (tidied(choice.label) == text)
            return choice.value;
    if (p.scale == Scale::Toggle && (text == "on" || text == "off"))
        return text == "on" ? 1 : 0;

    std::string figure = text;
    const std::string unit = tidied(p.unit);
    if (!unit.empty() && figure.size() > unit.size() && figure.ends_with(unit))
        figure.resize(figure.size() - unit.size());
    if (figure.starts_with("+"))
        figure.erase(0, 1);
    double factor = 1;
    if (unit == "ms" && figure.ends_with("s")) {
        factor = 1000; // seconds where milliseconds are meant
        figure.pop_back();
    }
    if (const auto value = signal::numberIn(figure))
        return *value * factor;
    return withKilo(figure);
}

double trackPosition(const ParameterInfo& p, double value)
{
    if (p.maximum <= p.minimum)
        return 0;
    const double position = p.scale == Scale::Logarithmic && p.minimum > 0
                                ? std::log(value / p.minimum) / std::log(p.maximum / p.minimum)
                                : (value - p.minimum) / (p.maximum - p.minimum);
    return std::clamp(position, 0.0, 1.0);
}

namespace {

/// The values that are meant where only named ones are, rising; else none.
std::vector<double> named(const ParameterInfo& p)
{
    std::vector<double> values;
    if (p.scale == Scale::Choice)
        for (const Choice& choice : p.choices)
            values.push_back(choice.value);
    std::ranges::sort(values);
    return values;
}

auto nearestIn(const std::vector<double>& values, double value)
{
    return std::ranges::min_element(values, {}, [value](double one) { return std::abs(one - value); });
}

} // namespace

double valueAt(const ParameterInfo& p, double position)
{
    const double at = std::clamp(position, 0.0, 1.0);
    const double value = p.scale == Scale::Logarithmic && p.minimum > 0
                             ? p.minimum * std::pow(p.maximum / p.minimum, at)
                             : p.minimum + at * (p.maximum - p.minimum);
    if (const auto values = named(p); !values.empty())
        return *nearestIn(values, value);
    return std::clamp(isWhole(p) ? std::round(value) : value, p.minimum, p.maximum);
}

double stepped(const ParameterInfo& p, double value, int direction, bool fine)
{
    if (const auto values = named(p); !values.empty()) {
        const auto at = nearestIn(values, value) - values.begin() + direction;
        return values[static_cast<std::size_t>(
            std::clamp<std::ptrdiff_t>(at, 0, static_cast<std::ptrdiff_t>(values.size()) - 1))];
    }
    if (isWhole(p))
        return std::clamp(value + direction, p.minimum, p.maximum);
    const double step = direction / (fine ? 10 * steps_on_a_track : steps_on_a_track);
    return valueAt(p, trackPosition(p, value) + step);
}

} // namespace hr::processors

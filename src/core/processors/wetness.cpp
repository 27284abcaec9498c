// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/wetness.h"

#include "processors/graph.h"

#include <algorithm>
#include <cctype>
#include <optional>
#include <string>

namespace hr::processors {

namespace {

/// Its letters in lower case, everything else as single spaces.
std::string wordsOf(const std::string& name)
{
    std::string words;
    for (const char letter : name)
        if (const auto c = static_cast<unsigned char>(letter); std::isalpha(c) != 0)
            words += static_cast<char>(std::tolower(c));
        else if (!words.empty() && words.back() != ' ')
            words += ' ';
    while (words.ends_with(' '))
        words.pop_back();
    return words;
}

bool isOne(const std::string& words, std::initializer_list<const char*> of)
{
    return std::ranges::find(of, words) != of.end();
}

/// The value at which this one lets nothing dry through; empty: it has nothing to do with it.
std::optional<double> wetEnd(const ParameterInfo& parameter)
{
    if (const auto address = addressIn(parameter.key); address && address->of_chain)
        return address->key == "blend_percent" ? std::optional(parameter.maximum) : std::nullopt;
    if (!parameter.choices.empty())
        return std::nullopt;
    const std::string words = wordsOf(parameter.name);
    if (isOne(words, {"wet dry", "wet dry mix", "wet dry balance"}) &&
        parameter.name.find('/') != std::string::npos)
        return parameter.maximum; // "wet/dry", like "dry/wet", counts what is wet
    if (isOne(words, {"mix", "dry wet", "dry wet mix", "dry wet balance", "wet", "wet mix", "wet amount",
                      "blend", "effect mix", "fx mix", "wetness", "wet level"}))
        return parameter.unit == "dB" ? std::nullopt : std::optional(parameter.maximum);
    if (isOne(words, {"dry", "dry level", "dry gain", "dry signal", "dry volume", "dry amount", "direct",
                      "direct level"}))
        return parameter.minimum;
    return std::nullopt;
}

} // namespace

std::vector<double> fullyWet(const ProcessorInfo& info, std::vector<double> values)
{
    for (std::size_t i = 0; i < values.size() && i < info.parameters.size(); ++i)
        if (const auto end = wetEnd(info.parameters[i]))
            values[i] = *end;
    return values;
}

bool mixesDryAndWet(const ProcessorInfo& info)
{
    return std::ranges::any_of(info.parameters,
                               [](const ParameterInfo& parameter) { return wetEnd(parameter).has_value(); });
}

} // namespace hr::processors

// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/labels.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>

namespace hr::bench {

namespace {

struct Rule {
    const char* word; // in the key or the name
    const char* unit; // of the parameter; empty: any
    const char* test;
    const char* figure;
};

/// The first that fits is taken. "corners" stands for whatever the response has at a frequency.
constexpr std::array<Rule, 19> rules{{{"threshold", "dB", "transfer", "threshold_db"},
                                      {"ratio", "", "transfer", "ratio"},
                                      {"knee", "dB", "transfer", "knee_db"},
                                      {"make", "dB", "transfer", "makeup_db"},
                                      {"range", "dB", "transfer", "range_db"},
                                      {"attack", "ms", "timing", "attack_ms"},
                                      {"release", "ms", "timing", "release_ms"},
                                      {"hold", "ms", "timing", "hold_ms"},
                                      {"predelay", "ms", "decay", "predelay_ms"},
                                      {"pre-delay", "ms", "decay", "predelay_ms"},
                                      {"delay", "ms", "echoes", "first_ms"},
                                      {"feedback", "dB", "echoes", "feedback_db"},
                                      {"decay", "s", "decay", "rt60_s"},
                                      {"width", "dB", "stereo", "width_db"},
                                      {"bits", "", "resolution", "effective_bits"},
                                      {"rate", "Hz", "movement", "rates"},
                                      {"freq", "Hz", "response", "corners"},
                                      {"cutoff", "Hz", "response", "corners"},
                                      {"gain", "dB", "response", "gain_1k_db"}}};

std::string lower(std::string text)
{
    std::ranges::transform(text, text.begin(),
                           [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return text;
}

/// What brings a value of one unit to another; empty where it cannot be.
std::optional<double> factorBetween(const std::string& unit, const std::string& wanted)
{
    const std::string from = lower(unit);
    const std::string to = lower(wanted);
    if (to.empty() || from == to || (to == "db" && from.starts_with("db")))
        return 1;
    if (from == "s" && to == "ms")
        return 1000;
    if (from == "ms" && to == "s")
        return 0.001;
    if (from == "khz" && to == "hz")
        return 1000;
    return std::nullopt;
}

bool isOne(const std::string& kind, std::initializer_list<const char*> kinds)
{
    return std::ranges::find(kinds, kind) != kinds.end();
}

/// Every number under the keys of a list of objects, and of figures of their own.
std::vector<double> candidates(const Reading& reading, const std::string& figure)
{
    std::vector<double> found;
    const auto take = [&](const char* key) {
        if (const auto value = reading.number(key))
            found.push_back(*value);
    };
    const auto takeList = [&](const char* list, const char* key) {
        if (const auto items = reading.figures.find(list); items != reading.figures.end() && items->is_array())
            for (const auto& item : *items)
                if (item.is_object() && item.contains(key) && item[key].is_number())
                    found.push_back(item[key].get<double>());
    };
    if (figure == "corners") {
        take("corner_low_hz");
        take("corner_high_hz");
        takeList("peaks", "frequency_hz");
        takeList("notches", "frequency_hz");
    } else if (figure == "rates") {
        take("amplitude_rate_hz");
        take("pitch_rate_hz");
    } else if (figure == "first_ms")
        takeList("echoes", "time_ms");
    else
        take(figure.c_str());
    return found;
}

} // namespace

std::optional<Promise> promiseOf(const processors::ParameterInfo& parameter, const std::string& kind)
{
    if (parameter.scale == processors::Scale::Toggle || !parameter.choices.empty())
        return std::nullopt;
    const std::string text = lower(parameter.key + " " + parameter.name);
    for (const Rule& rule : rules) {
        if (text.find(rule.word) == std::string::npos)
            continue;
        const auto factor = factorBetween(parameter.unit, rule.unit);
        const std::string test = rule.test;
        // In anything else than a gain alone, a gain is of a band, or of a part of the way.
        const bool whole_gain = std::string(rule.figure) == "gain_1k_db";
        if (!factor || (whole_gain && !isOne(kind, {"utility"})) ||
            (test == "response" && !whole_gain && !isOne(kind, {"filter", "equaliser"})) ||
            (test == "movement" && !isOne(kind, {"modulation"})) ||
            (test == "decay" && !isOne(kind, {"reverb"})))
            continue;
        return Promise{test, rule.figure, *factor};
    }
    return std::nullopt;
}

std::optional<double> readAgainst(const Promise& promise, double set, const Reading& reading)
{
    const auto found = candidates(reading, promise.figure);
    if (found.empty())
        return std::nullopt;
    return *std::ranges::min_element(found, {},
                                     [&](double value) { return std::abs(value - set * promise.factor); });
}

} // namespace hr::bench

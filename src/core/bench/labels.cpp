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
    const char* kinds = ""; // of processors, with strokes around each; empty: any
};

constexpr const char* filters = "|filter|equaliser|";
constexpr const char* delays = "|delay|utility|";
constexpr const char* movers = "|modulation|tremolo|vibrato|chorus|flanger|phaser|";

/// The first that fits is taken. "corners" stands for whatever the response has at a frequency. In anything
/// else than a gain alone, a gain is of a band, or of a part of the way.
constexpr std::array<Rule, 23> rules{{{"threshold", "dB", "transfer", "threshold_db"},
                                      {"ratio", ":1", "transfer", "ratio"},
                                      {"knee", "dB", "transfer", "knee_db"},
                                      {"make", "dB", "transfer", "makeup_db"},
                                      {"range", "dB", "transfer", "range_db"},
                                      {"attack", "ms", "timing", "attack_ms"},
                                      {"release", "ms", "timing", "release_ms"},
                                      {"hold", "ms", "timing", "hold_ms"},
                                      {"predelay", "ms", "decay", "predelay_ms", "|reverb|"},
                                      {"pre-delay", "ms", "decay", "predelay_ms", "|reverb|"},
                                      {"delay", "ms", "echoes", "first_ms", delays},
                                      {"time", "ms", "echoes", "first_ms", "|delay|"},
                                      {"feedback", "dB", "echoes", "feedback_db", "|delay|"},
                                      {"decay", "s", "decay", "rt60_s", "|reverb|"},
                                      {"time", "s", "decay", "rt60_s", "|reverb|"},
                                      {"width", "dB", "stereo", "width_db"},
                                      {"bits", "", "resolution", "effective_bits"},
                                      {"rate", "Hz", "movement", "rates", movers},
                                      {"freq", "Hz", "response", "corners", filters},
                                      {"cutoff", "Hz", "response", "corners", filters},
                                      {"q", "q", "response", "q", filters},
                                      {"quality", "q", "response", "q", filters},
                                      {"gain", "dB", "response", "gain_1k_db", "|utility|"}}};

/// Where one of these stands beside "time" or "delay", another time is meant.
constexpr std::array<const char*, 9> other_times{"smooth", "fade", "glide", "ramp", "lfo",
                                                 "mod",    "duck", "slew",  "cross"};

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
    if ((to == ":1" || to == "q") && (from.empty() || from == "1:" || from == "x"))
        return 1;
    if (from == "s" && to == "ms")
        return 1000;
    if (from == "ms" && to == "s")
        return 0.001;
    if (from == "khz" && to == "hz")
        return 1000;
    return std::nullopt;
}

/// Whether `word` stands in a text; a single letter has to stand alone.
bool names(const std::string& text, const std::string& word)
{
    const std::size_t at = text.find(word);
    if (word.size() > 1 || at == std::string::npos)
        return at != std::string::npos;
    const auto isLetter = [&](std::size_t i) {
        return i < text.size() && std::isalnum(static_cast<unsigned char>(text[i])) != 0;
    };
    for (std::size_t i = at; i != std::string::npos; i = text.find(word, i + 1))
        if (!isLetter(i + 1) && (i == 0 || !isLetter(i - 1)))
            return true;
    return false;
}

bool isOf(const std::string& kind, const std::string& kinds)
{
    return kinds.empty() || (!kind.empty() && kinds.find("|" + kind + "|") != std::string::npos);
}

bool isAnotherTime(const std::string& text)
{
    return std::ranges::any_of(other_times,
                               [&](const char* word) { return text.find(word) != std::string::npos; });
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
    else if (figure == "q") {
        takeList("peaks", "q");
        takeList("notches", "q");
    } else
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
        const auto factor = factorBetween(parameter.unit, rule.unit);
        const std::string test = rule.test;
        const bool of_time = test == "echoes" || test == "decay";
        if (factor && names(text, rule.word) && isOf(kind, rule.kinds) && !(of_time && isAnotherTime(text)))
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

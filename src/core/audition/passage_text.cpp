// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/passage_text.h"

#include "signal/number_text.h"
#include "signal/tap_tempo.h"

#include <algorithm>
#include <cctype>
#include <optional>
#include <regex>

namespace hr::audition {

namespace {

/// "2.5", "2,5", "1:02.5", "bar 3", "3" after a bar: in seconds.
std::optional<double> momentOf(std::string text, bool bars, double tempo_bpm)
{
    static const std::regex clock(R"(\s*(?:(\d{1,5}):)?(\d{1,6}(?:\.\d{0,6})?)\s*s?\s*)");
    static const std::regex bar(R"(\s*(?:bars?\s*)?(\d{1,6}(?:\.\d{0,6})?)\s*)");
    text = signal::withPoint(std::move(text));
    std::smatch parts;
    const auto number = [&parts](std::size_t part) { return signal::numberIn(parts[part].str()).value_or(0); };
    if (bars) {
        if (!std::regex_match(text, parts, bar) || tempo_bpm <= 0 || number(1) < 1)
            return std::nullopt;
        return (number(1) - 1) * signal::beats_a_bar * 60 / tempo_bpm;
    }
    if (!std::regex_match(text, parts, clock))
        return std::nullopt;
    return (parts[1].matched ? 60 * number(1) : 0) + number(2);
}

} // namespace

Result<TypedPassage> passageFromText(const std::string& text, double length_s, double tempo_bpm)
{
    constexpr std::size_t most_letters = 100;
    std::string lower = text.substr(0, most_letters);
    std::ranges::transform(lower, lower.begin(),
                           [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    const bool bars = lower.find("bar") != std::string::npos;
    if (bars && tempo_bpm <= 0)
        return wrongRequest("Bars need a tempo: type or tap it first.");
    static const std::regex between(R"(\s*(?:\bto\b|-|–|…)\s*)");
    const auto at = std::sregex_iterator(lower.begin(), lower.end(), between);
    const bool open_ended = at == std::sregex_iterator();
    const auto first = momentOf(open_ended ? lower : at->prefix().str(), bars, tempo_bpm);
    const auto end = open_ended ? std::optional(length_s) : momentOf(at->suffix().str(), bars, tempo_bpm);
    if (!first || !end)
        return wrongRequest("“" + text.substr(0, most_letters) +
                            "” is not a section: type “2.5 to 6”, “0:02 to 0:06” or “bar 3 to 5”.");
    if (*first >= length_s || *end <= *first)
        return wrongRequest("“" + text.substr(0, most_letters) +
                            "” lies outside the source or ends before it begins: the source is " +
                            std::to_string(static_cast<int>(length_s)) + " s long.");
    return TypedPassage{*first, std::min(*end, length_s)};
}

} // namespace hr::audition

// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/plain_text.h"

#include <algorithm>

namespace hr::processors {

namespace {

constexpr std::string_view replacement = "\xEF\xBF\xBD"; // U+FFFD
constexpr std::string_view ellipsis = "…";

/// Length of the code point at the front of `text` (The Unicode Standard 15, table 3-7); 0 where it is none.
std::size_t codePointLength(std::string_view text)
{
    const auto byte = [&](std::size_t i) { return static_cast<unsigned char>(text[i]); };
    const unsigned char first = byte(0);
    if (first < 0x80)
        return 1;
    const std::size_t length = first >= 0xC2 && first <= 0xDF   ? 2
                               : first >= 0xE0 && first <= 0xEF ? 3
                               : first >= 0xF0 && first <= 0xF4 ? 4
                                                                : 0;
    if (length == 0 || text.size() < length)
        return 0;
    const unsigned char low = first == 0xE0 ? 0xA0 : first == 0xF0 ? 0x90 : 0x80;
    const unsigned char high = first == 0xED ? 0x9F : first == 0xF4 ? 0x8F : 0xBF;
    if (byte(1) < low || byte(1) > high)
        return 0;
    for (std::size_t i = 2; i < length; ++i)
        if (byte(i) < 0x80 || byte(i) > 0xBF)
            return 0;
    return length;
}

/// Controls of C0 and C1, line and paragraph separators, and what turns the reading direction round.
bool isControl(std::string_view code_point)
{
    const auto byte = [&](std::size_t i) { return static_cast<unsigned char>(code_point[i]); };
    if (code_point.size() == 1)
        return byte(0) < 0x20 || byte(0) == 0x7F;
    if (code_point.size() == 2)
        return byte(0) == 0xC2 && byte(1) < 0xA0;
    if (code_point.size() != 3 || byte(0) != 0xE2)
        return false;
    const bool marks = byte(1) == 0x80 && (byte(2) == 0x8E || byte(2) == 0x8F);   // U+200E, U+200F
    const bool overrides = byte(1) == 0x80 && byte(2) >= 0xA8 && byte(2) <= 0xAE; // U+2028 to U+202E
    const bool isolates = byte(1) == 0x81 && byte(2) >= 0xA6 && byte(2) <= 0xA9;  // U+2066 to U+2069
    return marks || overrides || isolates;
}

} // namespace

std::size_t plainLength(std::string_view text)
{
    const std::size_t length = codePointLength(text);
    return length == 0 || isControl(text.substr(0, length)) ? 0 : length;
}

std::string plainText(std::string_view text, std::size_t most_bytes, Lines lines)
{
    std::string plain;
    std::size_t fits = 0; // as much of it as leaves room for the ellipsis
    while (!text.empty()) {
        const std::size_t length = codePointLength(text);
        const std::string_view point = text.substr(0, std::max<std::size_t>(1, length));
        const bool kept_break = lines == Lines::Many && (point == "\n" || point == "\t");
        const std::string_view put = length == 0                       ? replacement
                                     : isControl(point) && !kept_break ? std::string_view(" ")
                                                                       : point;
        if (plain.size() + put.size() > most_bytes)
            return plain.substr(0, fits).append(ellipsis);
        plain += put;
        text.remove_prefix(point.size());
        if (plain.size() + ellipsis.size() <= most_bytes)
            fits = plain.size();
    }
    return plain;
}

} // namespace hr::processors

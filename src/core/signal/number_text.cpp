// SPDX-License-Identifier: GPL-3.0-or-later
#include "signal/number_text.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <charconv>
#include <cmath>

namespace hr::signal {

namespace {

constexpr std::size_t longest_number = 400; // of 10^308, with its digits behind the point

template<class... Form>
std::string written(double value, Form... form)
{
    std::array<char, longest_number> text;
    const auto [end, failed] = std::to_chars(text.data(), text.data() + text.size(), value, form...);
    return failed == std::errc() ? std::string(text.data(), end) : std::string();
}

} // namespace

std::string fixedText(double value, int digits)
{
    return written(value, std::chars_format::fixed, std::clamp(digits, 0, 20));
}

std::string shortText(double value, int digits)
{
    return written(value, std::chars_format::general, std::clamp(digits, 1, 20));
}

std::optional<double> numberIn(std::string_view text)
{
    if (text.starts_with('+') && text.size() > 1 && text[1] != '-')
        text.remove_prefix(1); // which from_chars() does not take
    double value = 0;
    const auto [end, failed] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (text.empty() || failed != std::errc() || end != text.data() + text.size() || !std::isfinite(value))
        return std::nullopt;
    return value;
}

std::string withPoint(std::string text)
{
    const auto comma = text.find(',');
    if (comma == std::string::npos || text.find(',', comma + 1) != std::string::npos ||
        text.find('.') != std::string::npos)
        return text;
    const auto isDigit = [](unsigned char c) { return std::isdigit(c) != 0; };
    const auto behind = static_cast<std::size_t>(
        std::find_if_not(text.begin() + static_cast<std::ptrdiff_t>(comma) + 1, text.end(), isDigit) -
        text.begin() - static_cast<std::ptrdiff_t>(comma) - 1);
    auto before = comma;
    while (before > 0 && isDigit(static_cast<unsigned char>(text[before - 1])))
        --before;
    const std::string_view whole(text.data() + before, comma - before);
    // Three digits behind one to three others may be thousands.
    if (behind == 3 && !whole.empty() && whole.size() <= 3 && whole != "0")
        return text;
    text[comma] = '.';
    return text;
}

std::optional<double> typedNumber(std::string_view typed)
{
    constexpr std::string_view real_minus = "\u2212";
    std::string text(typed);
    if (const auto at = text.find(real_minus); at != std::string::npos)
        text.replace(at, real_minus.size(), "-");
    std::erase_if(text, [](unsigned char c) { return std::isspace(c) != 0; });
    return numberIn(withPoint(std::move(text)));
}

} // namespace hr::signal

// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/path_text.h"

#include "processors/plain_text.h"

#include <charconv>

namespace hr::hosting {

namespace {

std::string escaped(char c)
{
    const auto byte = static_cast<unsigned char>(c);
    constexpr std::string_view digits = "0123456789ABCDEF";
    return {'%', digits[byte >> 4U], digits[byte & 15U]};
}

} // namespace

std::string pathText(const std::filesystem::path& path)
{
    const std::string bytes = path.string();
    std::string text;
    for (std::string_view rest = bytes; !rest.empty();) {
        const std::size_t length = rest.front() == '%' ? 0 : processors::plainLength(rest);
        text += length == 0 ? escaped(rest.front()) : std::string(rest.substr(0, length));
        rest.remove_prefix(std::max<std::size_t>(1, length));
    }
    return text;
}

std::filesystem::path pathFrom(const std::string& text)
{
    std::string bytes;
    for (std::size_t at = 0; at < text.size(); ++at) {
        unsigned value = 0;
        const char* const begin = text.data() + at + 1;
        if (text[at] == '%' && at + 2 < text.size() &&
            std::from_chars(begin, begin + 2, value, 16).ptr == begin + 2) {
            bytes += static_cast<char>(value);
            at += 2;
        } else {
            bytes += text[at];
        }
    }
    return bytes;
}

} // namespace hr::hosting

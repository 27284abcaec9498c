// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/json_text.h"

namespace hr::processors {

namespace {

template<class Json>
Json parsed(std::string_view text, std::size_t most_bytes)
{
    if (text.size() > most_bytes || nestsDeeperThan(text, deepest_json))
        return Json(Json::value_t::discarded);
    return Json::parse(text.begin(), text.end(), nullptr, false);
}

} // namespace

bool nestsDeeperThan(std::string_view text, std::size_t levels)
{
    std::size_t depth = 0;
    bool in_string = false;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (in_string) {
            if (c == '\\')
                ++i; // whatever it escapes does not end the string
            else if (c == '"')
                in_string = false;
        } else if (c == '"') {
            in_string = true;
        } else if (c == '[' || c == '{') {
            if (++depth > levels)
                return true;
        } else if ((c == ']' || c == '}') && depth > 0) {
            --depth;
        }
    }
    return false;
}

nlohmann::json jsonFrom(std::string_view text, std::size_t most_bytes)
{
    return parsed<nlohmann::json>(text, most_bytes);
}

nlohmann::ordered_json orderedJsonFrom(std::string_view text, std::size_t most_bytes)
{
    return parsed<nlohmann::ordered_json>(text, most_bytes);
}

} // namespace hr::processors

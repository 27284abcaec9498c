// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/refusals_text.h"

#include <nlohmann/json.hpp>
#include <string>
#include <vector>

namespace hr::library {

QString refusalsText(const hosting::Refusals& refusals)
{
    return refusals.any()
               ? QString::fromStdString(
                     nlohmann::json{{"wanted", hosting::words(refusals)}, {"path", refusals.path}}.dump(
                         -1, ' ', false, nlohmann::json::error_handler_t::replace))
               : QString();
}

hosting::Refusals refusalsFrom(const QString& text)
{
    const nlohmann::json stored =
        text.isEmpty() ? nlohmann::json() : nlohmann::json::parse(text.toStdString(), nullptr, false);
    if (!stored.is_object())
        return {};
    std::vector<std::string> words;
    for (const nlohmann::json& word : stored.value("wanted", nlohmann::json::array()))
        if (word.is_string())
            words.push_back(word.get<std::string>());
    const nlohmann::json path = stored.value("path", nlohmann::json());
    return hosting::refusalsFrom(words, path.is_string() ? path.get<std::string>() : std::string());
}

} // namespace hr::library

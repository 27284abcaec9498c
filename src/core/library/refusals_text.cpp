// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/refusals_text.h"

#include "processors/json_text.h"

#include <string>
#include <vector>

namespace hr::library {

QString refusalsText(const hosting::Refusals& refusals)
{
    return refusals.any()
               ? QString::fromStdString(nlohmann::json{
                     {"wanted", hosting::words(refusals)},
                     {"path", refusals.path},
                     {"read_path",
                      refusals.read_path}}.dump(-1, ' ', false, nlohmann::json::error_handler_t::replace))
               : QString();
}

hosting::Refusals refusalsFrom(const QString& stored_text)
{
    const nlohmann::json stored = processors::jsonFrom(stored_text.toStdString());
    if (!stored.is_object())
        return {};
    std::vector<std::string> words;
    for (const nlohmann::json& word : stored.value("wanted", nlohmann::json::array()))
        if (word.is_string())
            words.push_back(word.get<std::string>());
    const auto text_at = [&](const char* key) {
        const nlohmann::json value = stored.value(key, nlohmann::json());
        return value.is_string() ? value.get<std::string>() : std::string();
    };
    return hosting::refusalsFrom(words, text_at("path"), text_at("read_path"));
}

} // namespace hr::library

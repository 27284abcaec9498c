// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/trial_file.h"

#include "exchange/document.h"

namespace hr::exchange {

using nlohmann::ordered_json;

namespace {

std::string quoted(const std::string& text)
{
    std::string field = "\"";
    for (const char c : text) {
        if (c == '"')
            field += '"';
        field += c;
    }
    return field + '"';
}

std::string answersAsCsv(const ordered_json& trial)
{
    const auto title = [&trial](const std::string& which) {
        return quoted(trial.at(which).value("title", std::string()));
    };
    std::string csv = "round,x,said,right\r\n";
    int round = 0;
    for (const ordered_json& answer : trial.at("result").at("answers")) {
        const auto x = answer.at("x").get<std::string>();
        const auto said = answer.at("said").get<std::string>();
        csv += std::to_string(++round) + ',' + title(x) + ',' + title(said) + ',' + (x == said ? '1' : '0') +
               "\r\n";
    }
    return csv;
}

} // namespace

Result<void> writeTrial(const std::filesystem::path& file, const ordered_json& document)
{
    return file.extension() == ".csv" ? writeText(file, answersAsCsv(document)) : writeDocument(file, document);
}

} // namespace hr::exchange

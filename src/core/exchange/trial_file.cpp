// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/trial_file.h"

#include "exchange/csv.h"
#include "exchange/document.h"

namespace hr::exchange {

using nlohmann::ordered_json;

namespace {

/// The title behind "A"; of an anchor, its own name.
std::string titleOf(const ordered_json& trial, const std::string& name)
{
    for (const ordered_json& candidate : trial.value("candidates", ordered_json::array()))
        if (candidate.value("name", std::string()) == name)
            return name + ' ' + candidate.value("title", std::string());
    return name;
}

std::string rankingsAsCsv(const ordered_json& trial)
{
    std::string csv = "pass,place,candidate\r\n";
    int pass = 0;
    for (const ordered_json& ranking : trial.at("result").at("rankings")) {
        ++pass;
        int place = 0;
        for (const ordered_json& name : ranking)
            csv += std::to_string(pass) + ',' + std::to_string(++place) + ',' +
                   csvField(titleOf(trial, name.get<std::string>())) + "\r\n";
    }
    return csv;
}

std::string gradesAsCsv(const ordered_json& trial)
{
    std::string csv = "pass,candidate,grade\r\n";
    int pass = 0;
    for (const ordered_json& grades : trial.at("result").at("answers")) {
        ++pass;
        for (const auto& [name, grade] : grades.items())
            csv += std::to_string(pass) + ',' + csvField(titleOf(trial, name)) + ',' +
                   std::to_string(grade.get<int>()) + "\r\n";
    }
    return csv;
}

std::string answersAsCsv(const ordered_json& trial)
{
    const std::string kind = trial.value("kind", std::string("abx"));
    if (kind == "preference")
        return rankingsAsCsv(trial);
    if (kind == "rating")
        return gradesAsCsv(trial);
    const auto title = [&trial](const std::string& which) {
        return csvField(trial.at(which).value("title", std::string()));
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

// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/report/write_report.h"

#include "exchange/csv.h"
#include "exchange/document.h"
#include "exchange/report/html.h"
#include "exchange/report/svg.h"

#include <algorithm>
#include <array>

namespace hr::exchange {

using nlohmann::ordered_json;

namespace {

/// A cell of a Markdown table: neither its bars nor its lines.
std::string cell(std::string text)
{
    std::ranges::replace(text, '\n', ' ');
    for (auto at = text.find('|'); at != std::string::npos; at = text.find('|', at + 2))
        text.replace(at, 1, "\\|");
    return text;
}

std::string tableAsMarkdown(const ordered_json& part)
{
    std::string text = "| figure |";
    std::string line = "| --- |";
    for (const auto& column : part.value("columns", ordered_json::array())) {
        text += ' ' + cell(column.value("letter", std::string()) + ' ' + column.value("title", std::string())) +
                " |";
        line += " ---: |";
    }
    text += '\n' + line + '\n';
    for (const auto& row : part.value("rows", ordered_json::array())) {
        text += "| " + cell(row.value("title", std::string())) + " |";
        for (const auto& value : row.value("texts", ordered_json::array()))
            text += ' ' + cell(value.get<std::string>()) + " |";
        text += '\n';
    }
    return text + "\n*" + part.value("note", std::string()) + "*\n";
}

std::string pictureName(const std::string& stem, int picture)
{
    return stem + '-' + std::to_string(picture) + ".svg";
}

bool isPicture(const ordered_json& part)
{
    return part.value("kind", std::string()) == "plot" && !part.contains("missing");
}

} // namespace

std::optional<ReportFormat> reportFormat(const std::string& word)
{
    constexpr std::array words{"html", "markdown", "csv", "json", "pdf"};
    const auto found = std::ranges::find(words, word);
    return found == words.end() ? std::nullopt
                                : std::optional(static_cast<ReportFormat>(found - words.begin()));
}

std::string reportAsMarkdown(const ordered_json& report, const std::string& stem)
{
    std::string text = "# " + report.value("title", std::string()) + "\n\n";
    int pictures = 0;
    for (const auto& part : report.value("parts", ordered_json::array())) {
        const std::string kind = part.value("kind", std::string());
        if (kind == "text") {
            text += part.value("markdown", std::string()) + "\n\n";
            continue;
        }
        const std::string heading = part.value("heading", std::string());
        text += "## " + heading + "\n\n";
        if (part.contains("missing"))
            text += part.value("missing", std::string()) + '\n';
        else if (kind == "table")
            text += tableAsMarkdown(part);
        else if (kind == "trial")
            text += "**" + part.value("sentence", std::string()) + "**\n";
        else
            text += "![" + heading + "](" + pictureName(stem, ++pictures) + ")\n";
        text += '\n';
    }
    return text;
}

std::string reportAsCsv(const ordered_json& report)
{
    std::string csv = "table,test,key,figure,unit,definition";
    for (const auto& subject : report.value("subjects", ordered_json::array()))
        csv += ',' +
               csvField(subject.value("letter", std::string()) + ' ' + subject.value("title", std::string()));
    csv += "\r\n";
    for (const auto& part : report.value("parts", ordered_json::array()))
        for (const auto& row : part.value("rows", ordered_json::array())) {
            csv += csvField(part.value("heading", std::string()));
            for (const char* column : {"test", "key", "title", "unit", "definition"})
                csv += ',' + csvField(row.value(column, std::string()));
            for (const auto& value : row.value("values", ordered_json::array()))
                csv += ',' + (value.is_null()     ? std::string()
                              : value.is_number() ? value.dump()
                              : value.is_string() ? csvField(value.get<std::string>())
                                                  : csvField(value.dump()));
            csv += "\r\n";
        }
    return csv;
}

Result<void> writeReport(const ordered_json& report, ReportFormat format, const std::filesystem::path& file)
{
    switch (format) {
    case ReportFormat::Html:
        return writeText(file, reportAsHtml(report));
    case ReportFormat::Csv:
        return writeText(file, reportAsCsv(report));
    case ReportFormat::Markdown: {
        int pictures = 0;
        for (const auto& part : report.value("parts", ordered_json::array()))
            if (isPicture(part))
                if (auto put = writeText(file.parent_path() / pictureName(file.stem().string(), ++pictures),
                                         svgOf(part));
                    !put)
                    return put;
        return writeText(file, reportAsMarkdown(report, file.stem().string()));
    }
    default:
        return writeDocument(file, report);
    }
}

} // namespace hr::exchange

// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/report/html.h"

#include "exchange/report/svg.h"
#include "exchange/report/write_report.h"

#include <cmark.h>
#include <memory>

namespace hr::exchange {

using nlohmann::ordered_json;

namespace {

using Picture = std::function<std::string(const ordered_json&)>;

constexpr const char* style = R"(
body { background: #F6F2E9; color: #22303A; font: 15px/1.5 Inter, "Helvetica Neue", Arial, sans-serif; margin: 0; }
main { max-width: 46em; margin: 2em auto; padding: 2em 3em; background: #FFFDF7; border: 1px solid #D8D0BF; }
h1 { font-size: 26px; margin: 0 0 .2em; } h2 { font-size: 17px; margin: 1.6em 0 .4em; }
.faint { color: #5F6B70; font-size: 12px; }
table { border-collapse: collapse; width: 100%; } th { text-align: right; font-weight: 600; }
th.name, td.name { text-align: left; } td { text-align: right; font-family: "JetBrains Mono", monospace; font-size: 13px; }
td.name { font-family: Inter, Arial, sans-serif; } td, th { padding: 4px 8px; border-bottom: 1px solid #D8D0BF; }
svg { max-width: 100%; height: auto; } .sentence { font-size: 17px; font-weight: 600; margin: .3em 0; }
)";

std::string tableAsHtml(const ordered_json& part)
{
    std::string html = "<table><thead><tr><th scope=\"col\" class=\"name\">figure</th>";
    for (const auto& column : part.value("columns", ordered_json::array()))
        html += "<th scope=\"col\">" +
                escaped(column.value("letter", std::string()) + ' ' + column.value("title", std::string())) +
                "</th>";
    html += "</tr></thead><tbody>";
    for (const auto& row : part.value("rows", ordered_json::array())) {
        const std::string source = row.value("source", std::string());
        html += "<tr><td class=\"name\" title=\"" +
                escaped(row.value("definition", std::string()) + (source.empty() ? "" : " (" + source + ")")) +
                "\">" + escaped(row.value("title", std::string())) + "</td>";
        for (const auto& text : row.value("texts", ordered_json::array()))
            html += "<td>" + escaped(text.get<std::string>()) + "</td>";
        html += "</tr>";
    }
    return html + "</tbody></table><p class=\"faint\">" + escaped(part.value("note", std::string())) + "</p>";
}

std::string trialAsHtml(const ordered_json& part)
{
    std::string html =
        "<p class=\"sentence\">" + escaped(part.value("sentence", std::string())) + "</p><p class=\"faint\">";
    bool first = true;
    for (const auto& fact : part.value("facts", ordered_json::array())) {
        html += (first ? "" : " · ") +
                escaped(fact.value("what", std::string()) + ": " + fact.value("value", std::string()));
        first = false;
    }
    return html + "</p>";
}

/// "Which curve is whose", for those who cannot tell colours.
std::string legend(const ordered_json& part)
{
    std::string text;
    std::string last;
    for (const auto& curve : part.value("curves", ordered_json::array())) {
        const std::string one =
            curve.value("letter", std::string()) + ' ' + curve.value("title", std::string());
        if (one != last)
            text += (text.empty() ? "" : " · ") + one;
        last = one;
    }
    return text;
}

} // namespace

std::string escaped(const std::string& text)
{
    std::string html;
    for (const char c : text) {
        if (c == '&')
            html += "&amp;";
        else if (c == '<')
            html += "&lt;";
        else if (c == '>')
            html += "&gt;";
        else if (c == '"')
            html += "&quot;";
        else if (static_cast<unsigned char>(c) >= 0x20 || c == '\n' || c == '\t')
            html += c; // other controls are in neither HTML nor XML
    }
    return html;
}

std::string markdownAsHtml(const std::string& markdown)
{
    const std::unique_ptr<char, decltype(&std::free)> html(
        cmark_markdown_to_html(markdown.data(), markdown.size(), CMARK_OPT_VALIDATE_UTF8), &std::free);
    return html ? html.get() : std::string();
}

bool isPart(const ordered_json& part)
{
    try { // nlohmann-json reports by exceptions; they end here
        const ordered_json report{{"title", "x"}, {"subjects", ordered_json::array()}, {"parts", {part}}};
        (void)reportAsHtml(report);
        (void)reportAsMarkdown(report, {});
        (void)reportAsCsv(report);
        return part.is_object();
    } catch (const ordered_json::exception&) {
        return false;
    }
}

std::string htmlOf(const ordered_json& part, const Picture& picture)
{
    const std::string kind = part.value("kind", std::string());
    if (kind == "text")
        return markdownAsHtml(part.value("markdown", std::string()));
    std::string html = "<h2>" + escaped(part.value("heading", std::string())) + "</h2>";
    if (part.contains("missing"))
        return html + "<p class=\"faint\">" + escaped(part.value("missing", std::string())) + "</p>";
    if (kind == "table")
        return html + tableAsHtml(part);
    if (kind == "trial")
        return html + trialAsHtml(part);
    return html + "<p>" + (picture ? picture(part) : svgOf(part)) + "</p><p class=\"faint\">" +
           escaped(legend(part)) + "</p>";
}

std::string reportAsHtml(const ordered_json& report, const Picture& picture)
{
    const std::string title = escaped(report.value("title", std::string()));
    std::string html = "<!DOCTYPE html>\n<html lang=\"en\"><head><meta charset=\"utf-8\"><title>" + title +
                       "</title><style>" + style + "</style></head><body><main><h1>" + title +
                       "</h1><p class=\"faint\">" + escaped(report.value("made", std::string()).substr(0, 10)) +
                       " · bench " + escaped(report.value("bench_version", std::string())) + "</p>\n";
    for (const auto& part : report.value("parts", ordered_json::array()))
        html += htmlOf(part, picture) + '\n';
    html += "<h2>What was measured</h2>";
    for (const auto& subject : report.value("subjects", ordered_json::array())) {
        html += "<p><b>" +
                escaped(subject.value("letter", std::string()) + ' ' + subject.value("title", std::string())) +
                "</b>";
        if (const std::string maker = subject.value("maker", std::string()); !maker.empty())
            html += ", " + escaped(maker);
        html += "<br/><span class=\"faint\">" + escaped(subject.value("processor", std::string()));
        const auto settings = subject.value("settings", ordered_json::object());
        for (const auto& [key, value] : settings.items())
            html += " · " + escaped(key + " = " + value.dump());
        html += "</span></p>";
    }
    return html + "</main></body></html>\n";
}

} // namespace hr::exchange

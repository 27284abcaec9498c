// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/report/page.h"

#include "bench/suite.h"
#include "processors/kinds.h"
#include "processors/states.h"
#include "processors/value_text.h"

#include <algorithm>
#include <array>
#include <string_view>

namespace hr::exchange {

using nlohmann::ordered_json;

namespace {

constexpr const char* page_format = "honest-rack-page";

ordered_json asJson(const PageSubject& subject)
{
    auto shown = ordered_json::array();
    for (const auto& [name, text] : subject.shown)
        shown.push_back({{"name", name}, {"text", text}});
    return {{"letter", letterOf(subject.mark)},
            {"mark", subject.mark},
            {"title", subject.title},
            {"maker", subject.maker},
            {"processor", subject.set_up.processor.toStdString()},
            {"preset", subject.set_up.preset.toStdString()},
            {"build", subject.set_up.build.toStdString()},
            {"state", processors::base64(subject.set_up.state)},
            {"settings", subject.set_up.settings},
            {"shown", shown}};
}

/// Of a page that somebody may have written by hand.
bool isSubject(const ordered_json& subject)
{
    const auto isText = [&subject](const char* key) {
        return !subject.contains(key) || subject[key].is_string();
    };
    return subject.is_object() &&
           std::ranges::all_of(std::array{"letter", "title", "maker", "processor", "preset", "build"},
                               isText) &&
           subject.value("mark", ordered_json(1)).is_number_integer() &&
           subject.value("settings", ordered_json::object()).is_object() &&
           subject.value("shown", ordered_json::array()).is_array();
}

std::string titles(const std::vector<PageSubject>& subjects)
{
    std::string text;
    for (const PageSubject& subject : subjects)
        text += (text.empty() ? "" : ", ") + letterOf(subject.mark) + ' ' + subject.title;
    return text;
}

} // namespace

std::string letterOf(int mark)
{
    return mark == 0 ? "S" : std::string(1, static_cast<char>('A' + std::clamp(mark, 1, 26) - 1));
}

std::string asMarkdown(const std::string& text)
{
    std::string escaped;
    for (const char c : text) {
        if (std::string_view("\\`*_{}[]<>#&!|~").find(c) != std::string_view::npos)
            escaped += '\\';
        escaped += c == '\n' ? ' ' : c;
    }
    return escaped;
}

ordered_json textBlock(const std::string& markdown)
{
    return {{"kind", "text"}, {"markdown", markdown}};
}

ordered_json overviewBlock()
{
    return {{"kind", "figures"}, {"heading", "What they do"}};
}

ordered_json figuresBlock(const std::string& test)
{
    const auto found = std::ranges::find(bench::allTests(), test, &bench::TestInfo::key);
    return {{"kind", "figures"},
            {"heading", found == bench::allTests().end() ? test : found->name},
            {"test", test}};
}

ordered_json plotBlock(const std::string& test, const std::string& series)
{
    return {{"kind", "plot"}, {"test", test}, {"series", series}};
}

namespace {

/// Of whatever is of a kind, or of one below it.
const std::vector<std::tuple<const char*, const char*, const char*>>& plotsOfKinds()
{
    static const std::vector<std::tuple<const char*, const char*, const char*>> all{
        {"dynamics", "timing", "gain"},
        {"reverb", "decay", "decay"},
        {"reverb", "decay", "rt60"},
        {"delay", "echoes", "echoes"},
        {"modulation", "movement", "amplitude"},
        {"modulation", "movement", "pitch"}};
    return all;
}

bool isOfKind(const std::string& one, const std::string& kind)
{
    return one == kind || processors::kindAbove(one) == kind;
}

} // namespace

std::vector<std::string> testsTellingOf(const std::string& kind)
{
    std::vector<std::string> tests;
    for (const auto& [of, test, series] : plotsOfKinds())
        if (isOfKind(kind, of) && std::ranges::find(tests, test) == tests.end())
            tests.emplace_back(test);
    return tests;
}

ordered_json settingsBlock()
{
    return {{"kind", "settings"}};
}

std::vector<PageSubject::Shown> shownSettings(const processors::ProcessorInfo& info,
                                              std::span<const double> values)
{
    constexpr std::size_t few = 12;
    const auto hidden = std::ranges::count_if(info.parameters, &processors::ParameterInfo::hidden);
    const bool all = info.parameters.size() - static_cast<std::size_t>(hidden) <= few;
    std::vector<PageSubject::Shown> shown;
    for (std::size_t i = 0; i < std::min(values.size(), info.parameters.size()); ++i)
        if (const auto& p = info.parameters[i]; !p.hidden && (all || values[i] != p.default_value))
            shown.push_back({p.name, processors::valueWithUnit(p, values[i])});
    return shown;
}

ordered_json trialBlock(const ordered_json& trial)
{
    return {{"kind", "trial"}, {"trial", trial}};
}

ordered_json newPage(const std::string& title, const std::vector<PageSubject>& subjects,
                     const std::vector<ordered_json>& trials)
{
    ordered_json page{{"format", page_format},
                      {"version", 1},
                      {"title", title},
                      {"subjects", ordered_json::array()},
                      {"blocks", ordered_json::array()}};
    for (const PageSubject& subject : subjects)
        page["subjects"].push_back(asJson(subject));
    auto& blocks = page["blocks"];
    blocks.push_back(
        textBlock(subjects.empty() ? std::string() : "About " + asMarkdown(titles(subjects)) + "."));
    if (subjects.empty())
        return page;
    blocks.push_back(overviewBlock());
    blocks.push_back(plotBlock("response", "magnitude"));
    blocks.push_back(plotBlock("transfer", "in_out"));
    blocks.push_back(plotBlock("harmonics", "thd_over_level"));
    for (const auto& [kind, test, series] : plotsOfKinds())
        if (std::ranges::any_of(subjects,
                                [of = kind](const PageSubject& one) { return isOfKind(one.kind, of); }))
            blocks.push_back(plotBlock(test, series));
    blocks.push_back(settingsBlock());
    for (const ordered_json& trial : trials)
        blocks.push_back(trialBlock(trial));
    blocks.push_back(textBlock({}));
    return page;
}

Result<void> checkPage(const ordered_json& page)
{
    const bool is_page =
        page.is_object() && page.value("format", ordered_json()) == page_format &&
        page.value("version", ordered_json()) == 1 && page.value("title", ordered_json()).is_string() &&
        page.value("subjects", ordered_json()).is_array() && page.value("blocks", ordered_json()).is_array();
    const auto isObject = [](const ordered_json& one) { return one.is_object(); };
    if (!is_page || !page.value("line_up", ordered_json::object()).is_object() ||
        !std::ranges::all_of(page["subjects"], isSubject) || !std::ranges::all_of(page["blocks"], isObject))
        return wrongRequest("This is not a page of the notebook: choose a file that Honest Rack wrote.");
    return {};
}

} // namespace hr::exchange

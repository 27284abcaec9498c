// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/report/filled_page.h"

#include "bench/figure_text.h"
#include "bench/plots.h"
#include "exchange/report/html.h"
#include "library/bench_check.h"
#include "processors/states.h"

#include <QDateTime>
#include <algorithm>
#include <map>
#include <set>

namespace hr::exchange {

using nlohmann::ordered_json;

namespace {

/// Figures that say most, as far as somebody has them.
const std::vector<std::pair<const char*, const char*>>& tellingFigures()
{
    static const std::vector<std::pair<const char*, const char*>> all{{"transfer", "kind"},
                                                                      {"transfer", "threshold_db"},
                                                                      {"transfer", "ratio"},
                                                                      {"transfer", "knee_db"},
                                                                      {"transfer", "makeup_db"},
                                                                      {"timing", "attack_ms"},
                                                                      {"timing", "hold_ms"},
                                                                      {"timing", "release_ms"},
                                                                      {"response", "gain_1k_db"},
                                                                      {"response", "corner_low_hz"},
                                                                      {"response", "corner_high_hz"},
                                                                      {"harmonics", "thd_percent"},
                                                                      {"intermodulation", "smpte_percent"},
                                                                      {"aliasing", "worst_alias_db"},
                                                                      {"decay", "rt60_s"},
                                                                      {"echoes", "repeat_ms"},
                                                                      {"echoes", "feedback_db"},
                                                                      {"movement", "amplitude_rate_hz"},
                                                                      {"movement", "amplitude_depth_db"},
                                                                      {"movement", "pitch_rate_hz"},
                                                                      {"movement", "pitch_depth_cents"},
                                                                      {"movement", "notch_count"},
                                                                      {"noise", "idle_dbfs"},
                                                                      {"stereo", "width_db"},
                                                                      {"cost", "latency_found_samples"},
                                                                      {"cost", "realtime_factor"},
                                                                      {"loudness_shift", "shift_lu"}};
    return all;
}

/// One of the page's, with what is known of exactly that set-up.
struct Measured {
    int mark = 1;
    std::string letter, title;
    std::vector<library::StoredReading> readings;

    const library::StoredReading* of(const std::string& test) const
    {
        const auto found =
            std::ranges::find(readings, QString::fromStdString(test), &library::StoredReading::test);
        return found == readings.end() ? nullptr : &*found;
    }
};

std::vector<Measured> measured(const library::Store& store, const ordered_json& page)
{
    std::vector<Measured> all;
    for (const ordered_json& subject : page.value("subjects", ordered_json::array())) {
        library::SetUp set_up;
        set_up.processor = QString::fromStdString(subject.value("processor", std::string()));
        set_up.preset = QString::fromStdString(subject.value("preset", std::string()));
        set_up.build = QString::fromStdString(subject.value("build", std::string()));
        set_up.state = processors::fromBase64(subject.value("state", std::string())).value_or("");
        set_up.settings = subject.value("settings", ordered_json::object());
        auto readings = store.runs.of(set_up);
        all.push_back({subject.value("mark", 1), subject.value("letter", std::string("A")),
                       subject.value("title", std::string()),
                       readings ? std::move(*readings) : std::vector<library::StoredReading>()});
    }
    return all;
}

/// ", within its limits on 2026-11-26"; empty where this version of the bench has not been checked.
std::string checkedNote(const std::optional<library::BenchCheck>& check, const std::string& version)
{
    if (!check || !check->isOf(QString::fromStdString(version)))
        return {};
    return (check->isWithinLimits() ? ", within its limits on " : ", off its limits on ") +
           check->taken.left(10).toStdString();
}

/// "48 kHz, blocks of 256 · taken 2026-11-26 to 2026-11-27 · bench 0.9, within its limits on 2026-11-26".
std::string conditionsNote(const std::vector<const library::StoredReading*>& readings,
                           const std::optional<library::BenchCheck>& check)
{
    if (readings.empty())
        return {};
    const ordered_json& conditions = readings.front()->conditions;
    QString first = readings.front()->taken;
    QString last = first;
    for (const auto* reading : readings) {
        first = std::min(first, reading->taken);
        last = std::max(last, reading->taken);
    }
    const std::string from = first.left(10).toStdString();
    const std::string to = last.left(10).toStdString();
    const auto version = conditions.value("bench_version", std::string("unknown"));
    return bench::numberText(conditions.value("sample_rate", 48000.0) / 1000, 1) + " kHz, blocks of " +
           std::to_string(conditions.value("block", 256)) + " · taken " +
           (from == to ? from : from + " to " + to) + " · bench " + version + checkedNote(check, version);
}

ordered_json columnsOf(const std::vector<Measured>& subjects)
{
    auto columns = ordered_json::array();
    for (const Measured& one : subjects)
        columns.push_back({{"letter", one.letter}, {"mark", one.mark}, {"title", one.title}});
    return columns;
}

/// A row of a table; null where nobody has anything to show in it.
ordered_json rowOf(const std::vector<Measured>& subjects, const std::string& test, const std::string& key)
{
    const bench::FigureInfo* figure = bench::figureInfo(test, key);
    if (!figure)
        return nullptr;
    auto texts = ordered_json::array();
    auto values = ordered_json::array();
    auto reasons = ordered_json::array();
    bool any = false;
    for (const Measured& one : subjects) {
        const auto* stored = one.of(test);
        const auto* value = stored ? bench::figureIn(stored->reading, key) : nullptr;
        any = any || (value && !value->is_null());
        texts.push_back(stored ? bench::cellText(stored->reading, key, *figure) : std::string());
        values.push_back(value ? *value : ordered_json());
        const auto reason =
            stored ? stored->reading.reasons.find(key) : std::map<std::string, std::string>::iterator();
        reasons.push_back(stored && reason != stored->reading.reasons.end() ? ordered_json(reason->second)
                                                                            : ordered_json());
    }
    if (!any)
        return nullptr;
    return {{"test", test},
            {"key", key},
            {"title", bench::titleOf(test, key, *figure)},
            {"unit", figure->unit},
            {"definition", figure->definition},
            {"source", figure->source},
            {"texts", texts},
            {"values", values},
            {"reasons", reasons}};
}

/// " · ≈ B: the decay is no straight line": what stands with a doubt in these rows, and why.
std::string doubtsNote(const std::vector<Measured>& subjects, const ordered_json& rows)
{
    std::string note;
    for (const Measured& one : subjects) {
        std::set<std::string> doubts;
        for (const auto& row : rows)
            if (const auto* stored = one.of(row["test"].get<std::string>()))
                if (auto why = stored->reading.whyUnsure(row["key"].get<std::string>()); !why.empty())
                    doubts.insert(std::move(why));
        for (const std::string& doubt : doubts)
            note += " · ≈ " + one.letter + ": " + doubt;
    }
    return note;
}

ordered_json tableOf(const library::Store& store, const std::vector<Measured>& subjects,
                     const ordered_json& block)
{
    const std::string test = block.value("test", std::string());
    std::vector<std::pair<std::string, std::string>> wanted;
    if (test.empty())
        wanted.assign(tellingFigures().begin(), tellingFigures().end());
    else {
        std::vector<const bench::Reading*> readings;
        for (const Measured& one : subjects)
            if (const auto* stored = one.of(test))
                readings.push_back(&stored->reading);
        for (const std::string& key : bench::figureKeys(test, readings))
            wanted.emplace_back(test, key);
    }
    auto rows = ordered_json::array();
    for (const auto& [of, key] : wanted)
        if (auto row = rowOf(subjects, of, key); !row.is_null())
            rows.push_back(std::move(row));
    std::vector<const library::StoredReading*> used;
    for (const Measured& one : subjects)
        for (const library::StoredReading& stored : one.readings)
            if (test.empty() || stored.test.toStdString() == test)
                used.push_back(&stored);
    ordered_json part{
        {"kind", "table"},
        {"heading", block.value("heading", std::string("What they do"))},
        {"columns", columnsOf(subjects)},
        {"rows", rows},
        {"note", conditionsNote(used, library::lastBenchCheck(store)) + doubtsNote(subjects, rows)}};
    if (rows.empty())
        part["missing"] = "Nothing of this has been measured yet.";
    return part;
}

ordered_json axisJson(const bench::Quantity& quantity)
{
    ordered_json json{{"name", quantity.name},
                      {"unit", quantity.unit},
                      {"logarithmic", quantity.logarithmic},
                      {"least_span", quantity.least_span},
                      {"digits", quantity.digits}};
    if (quantity.always)
        json["always"] = *quantity.always;
    return json;
}

ordered_json marksJson(const bench::Reading& reading, const bench::PlotInfo& plot)
{
    auto marks = ordered_json::array();
    for (const bench::Mark& mark : bench::marksOf(reading, plot))
        marks.push_back({{"x", mark.x}, {"y", mark.y}, {"text", mark.text}});
    return marks;
}

ordered_json plotPartOf(const std::vector<Measured>& subjects, const ordered_json& block)
{
    const bench::PlotInfo* plot =
        bench::plotOf(block.value("test", std::string()), block.value("series", std::string()));
    if (!plot)
        return {{"kind", "plot"}, {"heading", ""}, {"missing", "There is no such plot."}};
    auto curves = ordered_json::array();
    for (const Measured& one : subjects)
        if (const auto* stored = one.of(plot->test)) {
            if (const auto thin = bench::thinLineIn(stored->reading, *plot); thin && !plot->thin->on_demand)
                curves.push_back({{"letter", one.letter},
                                  {"mark", one.mark},
                                  {"title", one.title + ", " + plot->thin->name},
                                  {"thin", true},
                                  {"points", thin->points}});
            for (const bench::Curve& curve : bench::curvesIn(stored->reading, *plot))
                curves.push_back({{"letter", one.letter},
                                  {"mark", one.mark},
                                  {"title", one.title},
                                  {"points", curve.points},
                                  {"marks", marksJson(stored->reading, *plot)}});
        }
    bench::Quantity y = bench::quantityOf(plot->y);
    y.logarithmic = false; // only x can be
    ordered_json part{{"kind", "plot"},   {"heading", plot->title}, {"x", axisJson(bench::quantityOf(plot->x))},
                      {"y", axisJson(y)}, {"stems", plot->stems},   {"curves", curves}};
    if (curves.empty())
        part["missing"] = "Nothing of this has been measured yet.";
    return part;
}

/// A row for each name that a parameter of anybody has.
ordered_json settingsPartOf(const std::vector<Measured>& subjects, const ordered_json& page)
{
    std::vector<std::string> names;
    std::map<std::pair<std::string, std::size_t>, std::string> texts;
    const auto of = page.value("subjects", ordered_json::array());
    for (std::size_t i = 0; i < of.size(); ++i)
        for (const auto& shown : of[i].value("shown", ordered_json::array())) {
            const auto name = shown.value("name", std::string());
            if (std::ranges::find(names, name) == names.end())
                names.push_back(name);
            texts.emplace(std::pair(name, i), shown.value("text", std::string()));
        }
    auto rows = ordered_json::array();
    for (const std::string& name : names) {
        auto cells = ordered_json::array();
        for (std::size_t i = 0; i < of.size(); ++i) {
            const auto text = texts.find({name, i});
            cells.push_back(text == texts.end() ? std::string() : text->second);
        }
        rows.push_back({{"key", name}, {"title", name}, {"texts", cells}, {"values", cells}});
    }
    ordered_json part{{"kind", "table"},
                      {"heading", "How they are set"},
                      {"columns", columnsOf(subjects)},
                      {"rows", rows},
                      {"note", "What is not listed is at its default."}};
    if (rows.empty())
        part["missing"] = "They have no parameters, or all of them at their defaults.";
    return part;
}

ordered_json trialPartOf(const ordered_json& block)
{
    const ordered_json trial = block.value("trial", ordered_json::object());
    const ordered_json result = trial.value("result", ordered_json::object());
    const auto title = [&trial](const char* who) {
        return trial.value(who, ordered_json::object()).value("title", std::string());
    };
    std::string heading = trial.value("kind", std::string("abx")) == "abx"
                              ? "Blind: " + title("first") + " against " + title("second")
                              : "Blind, " + trial.value("kind", std::string());
    auto facts = ordered_json::array();
    const auto fact = [&facts](const std::string& what, const std::string& value) {
        facts.push_back({{"what", what}, {"value", value}});
    };
    fact("source", trial.value("source", ordered_json::object()).value("title", std::string()));
    if (const auto match = trial.value("match", ordered_json::object()); match.contains("apart_lu"))
        fact("apart in loudness by at most", bench::numberText(match.at("apart_lu").get<double>(), 2) + " LU");
    if (result.value("interval_low", ordered_json()).is_number())
        fact("right in the long run",
             bench::numberText(100 * result.at("interval_low").get<double>(), 0) + " to " +
                 bench::numberText(100 * result.at("interval_high").get<double>(), 0) + " of 100");
    fact("held", trial.value("started", std::string()).substr(0, 10));
    if (result.value("stopped_early", false))
        fact("stopped early", "yes");
    return {{"kind", "trial"},
            {"heading", heading},
            {"sentence", result.value("sentence", std::string())},
            {"facts", facts}};
}

/// By what is stored now.
ordered_json resolvedWith(const library::Store& store, const ordered_json& page, const ordered_json& block)
{
    if (block.contains("frozen") && isPart(block["frozen"]))
        return block["frozen"];
    const std::string kind = block.value("kind", std::string());
    if (kind == "trial")
        return trialPartOf(block);
    if (kind != "figures" && kind != "plot" && kind != "settings")
        return {{"kind", "text"}, {"markdown", block.value("markdown", std::string())}};
    const auto subjects = measured(store, page);
    if (kind == "figures")
        return tableOf(store, subjects, block);
    return kind == "plot" ? plotPartOf(subjects, block) : settingsPartOf(subjects, page);
}

} // namespace

ordered_json resolveBlock(const library::Store& store, const ordered_json& page, const ordered_json& block)
{
    try { // nlohmann-json reports by exceptions, here of a page that somebody wrote by hand; they end here
        return resolvedWith(store, page, block);
    } catch (const ordered_json::exception&) {
        return {{"kind", "text"}, {"markdown", "*This block is damaged and cannot be shown.*"}};
    }
}

ordered_json resolve(const library::Store& store, const ordered_json& page)
{
    ordered_json report{{"format", "honest-rack-report"},
                        {"version", 1},
                        {"title", page.value("title", std::string())},
                        {"bench_version", bench::benchVersion()},
                        {"made", QDateTime::currentDateTimeUtc().toString(Qt::ISODate).toStdString()},
                        {"subjects", page.value("subjects", ordered_json::array())},
                        {"parts", ordered_json::array()}};
    for (const ordered_json& block : page.value("blocks", ordered_json::array()))
        report["parts"].push_back(resolveBlock(store, page, block));
    return report;
}

} // namespace hr::exchange

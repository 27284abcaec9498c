// SPDX-License-Identifier: GPL-3.0-or-later
#include "command.h"
#include "exchange/report/filled_page.h"
#include "exchange/report/page.h"
#include "exchange/report/write_report.h"
#include "opened.h"
#include "print/pdf.h"

#include <algorithm>
#include <cstdio>
#include <iostream>

namespace hr::cli {

namespace {

struct ReportOptions {
    std::vector<std::string> ids, settings;
    std::string format = "html", out, title;
    bool again = false;
};

/// What is known of it; quick tests that are missing, and those that tell of its kind, are run first.
OpenedOr<exchange::PageSubject> subjectOf(const Context& context, library::Store& store, const std::string& id,
                                          const ReportOptions& options, int mark)
{
    auto opened = open(context, {id, {}, options.settings, options.again});
    if (!opened)
        return tl::make_unexpected(opened.error());
    if (!*opened)
        return OpenedOr<exchange::PageSubject>(tl::make_unexpected((*opened).error()));
    Opened& it = **opened;
    it.instance.reset(); // the bench opens it with its own channels
    exchange::PageSubject subject{mark,
                                  it.info.name,
                                  it.info.maker,
                                  library::setUpOf(store.catalogue, it.location, it.info, it.values),
                                  exchange::shownSettings(it.info, it.values),
                                  it.info.kind};
    auto known = store.runs.of(subject.set_up);
    if (!known)
        return tl::make_unexpected(known.error());
    auto missing = bench::quickTests();
    for (const std::string& test : exchange::testsTellingOf(it.info.kind))
        if (std::ranges::find(missing, test) == missing.end())
            missing.push_back(test);
    for (const library::StoredReading& reading : *known)
        std::erase(missing, reading.test.toStdString());
    if (missing.empty())
        return OpenedOr<exchange::PageSubject>(std::move(subject));
    if (context.progress)
        std::fprintf(stderr, "%s: %zu tests are run that are missing\n", id.c_str(), missing.size());
    const auto measurement = bench::measure(it.location, it.info, it.values, *bench::testsNamed(missing), {});
    if (auto stored = store.runs.store(subject.set_up, measurement); !stored)
        return tl::make_unexpected(stored.error());
    if (measurement.failure)
        std::cerr << "hrack: " << hosting::toError(measurement.failure->fault, id).text << '\n';
    return OpenedOr<exchange::PageSubject>(std::move(subject));
}

std::string titleOf(const std::vector<exchange::PageSubject>& subjects)
{
    std::string title;
    for (const auto& subject : subjects)
        title += (title.empty() ? "" : " against ") + subject.title;
    return title;
}

Result<int> run(const Context& context, const ReportOptions& options)
{
    const auto format = exchange::reportFormat(options.format);
    if (!format)
        return wrongRequest("--format takes html, markdown, csv, json or pdf, not \"" + options.format + "\".");
    constexpr std::size_t most = 8;
    if (options.ids.size() > most)
        return wrongRequest("A report compares at most 8.");
    if (!options.settings.empty() && options.ids.size() > 1)
        return wrongRequest("--set goes with one processor.");
    auto store = context.openStore();
    if (!store)
        return tl::make_unexpected(store.error());
    std::vector<exchange::PageSubject> subjects;
    for (const std::string& id : options.ids) {
        auto subject = subjectOf(context, **store, id, options, static_cast<int>(subjects.size()) + 1);
        if (!subject)
            return tl::make_unexpected(subject.error());
        if (!*subject) {
            std::cerr << "hrack: " << (*subject).error().sentence << '\n';
            return static_cast<int>(Blame::Processor);
        }
        subjects.push_back(std::move(**subject));
    }
    std::vector<nlohmann::ordered_json> trials;
    if (auto all = (*store)->trials.all(); all && subjects.size() == 2)
        for (const library::Trial& trial : *all)
            if ((trial.first == subjects[0].set_up.key() && trial.second == subjects[1].set_up.key()) ||
                (trial.second == subjects[0].set_up.key() && trial.first == subjects[1].set_up.key()))
                trials.push_back(trial.document);
    auto page = exchange::newPage(options.title.empty() ? titleOf(subjects) : options.title, subjects, trials);
    for (const char* test : {"timing", "noise", "trust"})
        page["blocks"].push_back(exchange::figuresBlock(test));
    auto report = exchange::resolve(**store, page);
    std::erase_if(report["parts"].get_ref<nlohmann::ordered_json::array_t&>(),
                  [](const auto& part) { return part.contains("missing"); });
    const auto written = *format == exchange::ReportFormat::Pdf
                             ? print::writePdf(report, options.out)
                             : exchange::writeReport(report, *format, options.out);
    return written ? Result<int>(0) : tl::make_unexpected(written.error());
}

} // namespace

void addReport(CLI::App& app, Context& context)
{
    auto* command = app.add_subcommand("report", "write a review or a comparison with its plots");
    const auto options = std::make_shared<ReportOptions>();
    command->add_option("ids", options->ids, "processors or chain files: one is reviewed, several are compared")
        ->required();
    command->add_option("--set", options->settings, "KEY=VALUE; as often as needed")->expected(1)->take_all();
    command->add_option("--format", options->format, "html (default), markdown, csv, json or pdf");
    command->add_option("--title", options->title, "of the report; the names when left out");
    command->add_option("--out", options->out, "the file")->required();
    command->add_flag("--again", options->again, "try it even though it is in quarantine");
    command->callback(
        [&context, options] { context.run = [&context, options] { return run(context, *options); }; });
}

} // namespace hr::cli

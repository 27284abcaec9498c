// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/suite.h"
#include "command.h"
#include "exchange/document.h"
#include "opened.h"

#include <cstdio>
#include <iostream>

namespace hr::cli {

namespace {

struct MeasureOptions {
    std::string id, preset, out;
    std::vector<std::string> settings, tests;
    double rate_hz = 48000;
    int block = 256;
    std::optional<double> level_dbfs, frequency_hz, tempo_bpm;
    std::string key = "input";
    bool json = false, again = false, no_store = false;
};

Result<bench::Conditions> conditionsOf(const MeasureOptions& o)
{
    if (!(o.rate_hz >= 8000 && o.rate_hz <= 384000))
        return wrongRequest("--rate takes 8000 to 384000 Hz.");
    if (o.block < 1 || o.block > static_cast<int>(hosting::stretch_frames))
        return wrongRequest("--block takes 1 to " + std::to_string(hosting::stretch_frames) + " frames.");
    if (o.level_dbfs && !(*o.level_dbfs >= -120 && *o.level_dbfs <= 24))
        return wrongRequest("--level takes -120 to 24 dBFS.");
    if (o.frequency_hz && !(*o.frequency_hz >= 10 && *o.frequency_hz < o.rate_hz / 2))
        return wrongRequest("--frequency takes 10 Hz to half the sample rate.");
    if (o.tempo_bpm && !(*o.tempo_bpm >= 1 && *o.tempo_bpm <= 999))
        return wrongRequest("--tempo takes 1 to 999 BPM.");
    if (o.key != "input" && o.key != "silence")
        return wrongRequest("--key takes input (the key input gets what the inputs get) or silence.");
    return bench::Conditions{
        o.rate_hz,    static_cast<std::size_t>(o.block),
        o.level_dbfs, o.frequency_hz,
        o.tempo_bpm,  o.key == "input" ? bench::KeyFeed::OwnInput : bench::KeyFeed::Silence};
}

void printText(const bench::Measurement& m)
{
    std::cout << m.processor.name << " (" << m.processor.id << "): " << m.outcome() << '\n';
    for (const auto& [test, reading] : m.readings) {
        std::cout << test << '\n';
        for (const auto& [key, value] : reading.figures.items())
            std::cout << "  " << key << "  " << value.dump() << '\n';
    }
    if (m.failure)
        std::cout << "  it " << hosting::sentence(m.failure->fault) << '\n';
}

/// A processor that cannot even be opened still yields a valid document that says how it failed.
bench::Measurement unopened(const std::string& id, const bench::Conditions& conditions, std::size_t asked,
                            const hosting::Fault& fault)
{
    bench::Measurement m;
    m.processor.id = id;
    m.conditions = conditions;
    m.asked = asked;
    m.failure = bench::Measurement::Failure{fault, {}};
    return m;
}

bench::MeasureControl controlOf(const Context& context)
{
    bench::MeasureControl control;
    if (context.progress)
        control.progress = [](const std::string& test, double done) {
            std::fprintf(stderr, "%3.0f %%  %s\n", 100 * done, test.c_str());
        };
    return control;
}

/// As the application keeps them.
Result<void> store(const Context& context, const Opened& opened, const bench::Measurement& measurement)
{
    auto store = context.openStore();
    if (!store)
        return tl::make_unexpected(store.error());
    const library::Catalogue& catalogue = (*store)->catalogue;
    return (*store)->runs.store(library::setUpOf(catalogue, opened.location, opened.info, opened.values),
                                measurement);
}

Result<void> put(const MeasureOptions& options, const bench::Measurement& measurement)
{
    const auto document = bench::toJson(measurement);
    if (options.json)
        print(document);
    else if (options.out.empty())
        printText(measurement);
    return options.out.empty() ? Result<void>() : exchange::writeDocument(options.out, document);
}

Result<int> run(const Context& context, const MeasureOptions& options)
{
    auto conditions = conditionsOf(options);
    if (!conditions)
        return tl::make_unexpected(conditions.error());
    auto tests = bench::testsNamed(options.tests);
    if (!tests)
        return tl::make_unexpected(tests.error());
    auto opened = open(
        context, {options.id, options.preset, options.settings, options.again, conditions->sample_rate_hz});
    if (!opened)
        return tl::make_unexpected(opened.error());
    if (!*opened) {
        const NotOpened& failed = (*opened).error();
        std::cerr << "hrack: " << failed.sentence << '\n';
        auto written = put(options, unopened(options.id, *conditions, tests->size(), failed.fault));
        return written ? Result<int>(static_cast<int>(Blame::Processor)) : tl::make_unexpected(written.error());
    }
    (*opened)->instance.reset(); // the bench opens it with its own channels
    const auto measurement = bench::measure((*opened)->location, (*opened)->info, (*opened)->values, *tests,
                                            *conditions, controlOf(context));
    if (auto written = put(options, measurement); !written)
        return tl::make_unexpected(written.error());
    if (!options.no_store)
        if (auto stored = store(context, **opened, measurement); !stored)
            return tl::make_unexpected(stored.error());
    if (measurement.failure)
        std::cerr << "hrack: " << hosting::toError(measurement.failure->fault, options.id).text << '\n';
    return measurement.failure ? static_cast<int>(Blame::Processor) : 0;
}

} // namespace

void addMeasure(CLI::App& app, Context& context)
{
    auto* command = app.add_subcommand("measure", "measure one processor or chain");
    const auto options = std::make_shared<MeasureOptions>();
    command
        ->add_option("id", options->id, "lv2:URI, ladspa:LIBRARY:LABEL, reference:NAME or a chain file (.json)")
        ->required();
    command->add_option("--set", options->settings, "KEY=VALUE; as often as needed")->expected(1)->take_all();
    command->add_option("--preset", options->preset, "one of its presets");
    command->add_option("--tests", options->tests, "response,harmonics,transfer; all when left out")
        ->delimiter(',');
    command->add_option("--rate", options->rate_hz, "sample rate, Hz");
    command->add_option("--block", options->block, "block, frames");
    command->add_option("--level", options->level_dbfs, "level of the stimulus, dBFS");
    command->add_option("--frequency", options->frequency_hz, "of the tone, Hz");
    command->add_option("--tempo", options->tempo_bpm, "BPM that it is told; none when left out");
    command->add_option("--key", options->key, "what a key input gets: input (default) or silence");
    command->add_flag("--no-store", options->no_store, "leave the catalogue as it is");
    command->add_option("--out", options->out, "write the document into this file");
    command->add_flag("--json", options->json, "one JSON document on standard output");
    command->add_flag("--again", options->again, "try it even though it is in quarantine");
    command->callback(
        [&context, options] { context.run = [&context, options] { return run(context, *options); }; });
}

} // namespace hr::cli

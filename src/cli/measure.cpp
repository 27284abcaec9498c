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
    std::optional<double> level_dbfs, frequency_hz;
    bool json = false, again = false;
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
    return bench::Conditions{o.rate_hz, static_cast<std::size_t>(o.block), o.level_dbfs, o.frequency_hz};
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

Result<bench::Measurement> measureProcessor(const Context& context, const MeasureOptions& options,
                                            const bench::Conditions& conditions,
                                            const std::vector<bench::TestInfo>& tests)
{
    auto location = find(context, options.id);
    if (!location)
        return tl::make_unexpected(location.error());
    if (auto may = mayTry(context, options.id, options.again); !may)
        return tl::make_unexpected(may.error());
    auto instance = hosting::openInstance(*location);
    if (!instance)
        return unopened(options.id, conditions, tests.size(), instance.error());
    const processors::ProcessorInfo info = (*instance)->info();
    auto values = settingsOf(context, info, options.preset, options.settings);
    if (!values)
        return tl::make_unexpected(values.error());
    instance->reset();
    location->preset = options.preset;
    return bench::measure(*location, info, *values, tests, conditions, controlOf(context));
}

Result<bench::Measurement> measureChain(const Context& context, const MeasureOptions& options,
                                        const bench::Conditions& conditions,
                                        const std::vector<bench::TestInfo>& tests)
{
    if (!options.settings.empty() || !options.preset.empty())
        return wrongRequest("--set and --preset go with a processor: a chain's settings stand in its file.");
    auto opened = openChain(context, options.id, options.again);
    if (!opened)
        return tl::make_unexpected(opened.error());
    if (!*opened)
        return unopened(options.id, conditions, tests.size(), opened->error());
    const processors::ProcessorInfo info = (*opened)->instance->info();
    (*opened)->instance.reset();
    return bench::measure((*opened)->location, info, (*opened)->values, tests, conditions, controlOf(context));
}

Result<int> run(const Context& context, const MeasureOptions& options)
{
    auto conditions = conditionsOf(options);
    if (!conditions)
        return tl::make_unexpected(conditions.error());
    auto tests = bench::testsNamed(options.tests);
    if (!tests)
        return tl::make_unexpected(tests.error());
    auto measurement = isChainFile(options.id) ? measureChain(context, options, *conditions, *tests)
                                               : measureProcessor(context, options, *conditions, *tests);
    if (!measurement)
        return tl::make_unexpected(measurement.error());
    const auto document = bench::toJson(*measurement);
    if (!options.out.empty())
        if (auto written = exchange::writeDocument(options.out, document); !written)
            return tl::make_unexpected(written.error());
    if (options.json)
        print(document);
    else if (options.out.empty())
        printText(*measurement);
    if (measurement->failure)
        std::cerr << "hrack: " << hosting::toError(measurement->failure->fault, options.id).text << '\n';
    return measurement->failure ? static_cast<int>(Blame::Processor) : 0;
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
    command->add_option("--out", options->out, "write the document into this file");
    command->add_flag("--json", options->json, "one JSON document on standard output");
    command->add_flag("--again", options->again, "try it even though it is in quarantine");
    command->callback(
        [&context, options] { context.run = [&context, options] { return run(context, *options); }; });
}

} // namespace hr::cli

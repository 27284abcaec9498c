// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/suite.h"
#include "command.h"
#include "exchange/batch.h"
#include "exchange/document.h"
#include "opened.h"

#include <algorithm>
#include <charconv>
#include <cstdio>
#include <iostream>
#include <thread>

namespace hr::cli {

namespace {

struct MeasureOptions {
    std::string id, preset, out, programme;
    std::vector<std::string> settings, tests;
    double rate_hz = 48000;
    int block = 256;
    std::optional<double> level_dbfs, frequency_hz, tempo_bpm;
    std::string key = "input";
    bool json = false, again = false, no_store = false;

    // Of a batch:
    bool all = false;
    std::string collection, shard;
    unsigned jobs = 0;
};

Result<bench::Conditions> conditionsOf(const MeasureOptions& o)
{
    if (o.key != "input" && o.key != "silence")
        return wrongRequest("--key takes input (the key input gets what the inputs get) or silence.");
    bench::Conditions conditions{
        o.rate_hz,    static_cast<std::size_t>(std::max(o.block, 0)),
        o.level_dbfs, o.frequency_hz,
        o.tempo_bpm,  o.key == "input" ? bench::KeyFeed::OwnInput : bench::KeyFeed::Silence};
    if (const auto wrong = bench::unfit(conditions))
        return wrongRequest("--" + wrong->key + ' ' + wrong->why + '.');
    if (!o.programme.empty()) {
        auto passage = bench::readPassage(o.programme, 0, 0, o.rate_hz);
        if (!passage)
            return tl::make_unexpected(passage.error());
        conditions.programme = *passage;
    }
    return conditions;
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

struct Shard {
    unsigned part = 1, of = 1;
};

/// "2/4"; empty: all of it.
Result<Shard> shardIn(const std::string& text)
{
    Shard shard;
    if (text.empty())
        return shard;
    const char* end = text.data() + text.size();
    const auto [slash, wrong] = std::from_chars(text.data(), end, shard.part);
    const bool read = wrong == std::errc() && slash != end && *slash == '/';
    const auto rest = read ? std::from_chars(slash + 1, end, shard.of) : std::from_chars_result{slash, wrong};
    if (!read || rest.ec != std::errc() || rest.ptr != end || shard.part < 1 || shard.part > shard.of)
        return wrongRequest("--shard takes I/N, the part and how many there are: 2/4.");
    return shard;
}

Result<void> fitsBatch(const MeasureOptions& o)
{
    const bool batch = o.all || !o.collection.empty();
    if (batch && !o.id.empty())
        return wrongRequest("--all and --collection measure many: leave \"" + o.id + "\" out.");
    if (batch && (!o.settings.empty() || !o.preset.empty()))
        return wrongRequest("--set and --preset go with one processor.");
    if (batch && o.out.empty())
        return wrongRequest("A batch writes a file for each processor: say where, with --out DIR.");
    if (!batch && o.id.empty())
        return wrongRequest("Say what is to be measured: an id, a chain file, or --all.");
    if (!batch && (!o.shard.empty() || o.jobs > 0))
        return wrongRequest("--jobs and --shard go with --all or --collection.");
    return {};
}

nlohmann::ordered_json summary(const exchange::BatchOutcome& outcome, const exchange::BatchItems& items)
{
    auto failed = nlohmann::ordered_json::array();
    for (const auto& [id, fault] : outcome.failed) {
        auto one = faultJson(fault);
        one["id"] = id;
        failed.push_back(std::move(one));
    }
    auto left_out = nlohmann::ordered_json::array();
    for (const auto& [id, why] : items.left_out)
        left_out.push_back({{"id", id}, {"reason", why}});
    return {{"measured", outcome.measured}, {"kept", outcome.kept}, {"failed", failed}, {"left_out", left_out}};
}

Result<int> runBatch(const Context& context, const MeasureOptions& options, const bench::Conditions& conditions,
                     const std::vector<bench::TestInfo>& tests)
{
    auto shard = shardIn(options.shard);
    if (!shard)
        return tl::make_unexpected(shard.error());
    auto store = context.openStore();
    if (!store)
        return tl::make_unexpected(store.error());
    auto items = exchange::batchItems(**store, QString::fromStdString(options.collection));
    if (!items)
        return tl::make_unexpected(items.error());
    exchange::BatchOrder order;
    order.folder = options.out;
    order.tests = tests;
    order.conditions = conditions;
    order.jobs = options.jobs > 0 ? options.jobs : std::max(1U, std::thread::hardware_concurrency());
    order.shard = shard->part;
    order.shards = shard->of;
    order.store = !options.no_store;
    if (context.progress)
        order.progress = [](const std::string& id, std::size_t ended, std::size_t of) {
            std::fprintf(stderr, "%zu of %zu  %s\n", ended, of, id.c_str());
        };
    const auto outcome = exchange::runBatch(**store, items->items, order);
    if (!outcome)
        return tl::make_unexpected(outcome.error());
    if (options.json)
        print(summary(*outcome, *items));
    else
        std::cout << outcome->measured << " measured, " << outcome->kept << " there already, "
                  << outcome->failed.size() << " failed, " << items->left_out.size() << " left out\n";
    return 0;
}

Result<int> run(const Context& context, const MeasureOptions& options)
{
    auto conditions = conditionsOf(options);
    if (!conditions)
        return tl::make_unexpected(conditions.error());
    auto tests = bench::testsNamed(options.tests);
    if (!tests)
        return tl::make_unexpected(tests.error());
    if (auto fits = fitsBatch(options); !fits)
        return tl::make_unexpected(fits.error());
    if (options.all || !options.collection.empty())
        return runBatch(context, options, *conditions, *tests);
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
    auto* command =
        app.add_subcommand("measure", "measure a processor or chain, a collection or the whole catalogue");
    const auto options = std::make_shared<MeasureOptions>();
    command->add_option("id", options->id,
                        "lv2:URI, ladspa:LIBRARY:LABEL, reference:NAME or a chain file (.json)");
    command->add_flag("--all", options->all, "every ready processor of the catalogue, a file each into --out");
    command->add_option("--collection", options->collection, "only what this collection holds");
    command->add_option("--jobs", options->jobs, "how many at once; as many as there are cores when left out")
        ->check(CLI::Range(1, 256));
    command->add_option("--shard", options->shard, "I/N: only the Ith of N parts");
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
    command->add_option("--programme", options->programme,
                        "an audio file that loudness_shift and stereo take in place of the bench's own");
    command->add_flag("--no-store", options->no_store, "leave the catalogue as it is");
    command->add_option("--out", options->out,
                        "write the document into this file; of a batch, the files into this folder");
    command->add_flag("--json", options->json, "one JSON document on standard output");
    command->add_flag("--again", options->again, "try it even though it is in quarantine");
    command->callback(
        [&context, options] { context.run = [&context, options] { return run(context, *options); }; });
}

} // namespace hr::cli

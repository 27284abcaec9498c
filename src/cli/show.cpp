// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/figure_text.h"
#include "bench/suite.h"
#include "library/bench_check.h"
#include "opened.h"

#include "processors/description_json.h"

#include <iostream>

namespace hr::cli {

namespace {

struct ShowOptions {
    std::string id;
    bool json = false, again = false;
};

nlohmann::ordered_json history(library::Store& store, const QString& id)
{
    auto list = nlohmann::ordered_json::array();
    if (auto faults = store.catalogue.faultsOf(id))
        for (const library::QuarantineEntry& q : *faults) {
            nlohmann::ordered_json entry{{"at", q.at.toStdString()}};
            entry.update(faultJson(q.fault));
            list.push_back(entry);
        }
    return list;
}

nlohmann::ordered_json readings(library::Store& store, const QString& id)
{
    auto all = nlohmann::ordered_json::object();
    if (auto latest = store.runs.latest(id))
        for (const library::StoredReading& r : *latest)
            all[r.test.toStdString()] = {{"taken", r.taken.toStdString()},
                                         {"settings", r.settings},
                                         {"conditions", r.conditions},
                                         {"figures", r.reading.figures}};
    return all;
}

/// Whether the bench was right; null where it has not been checked.
nlohmann::ordered_json benchCheck(const library::Store& store)
{
    const auto check = library::lastBenchCheck(store);
    if (!check)
        return nullptr;
    return {{"bench_version", check->bench_version.toStdString()},
            {"taken", check->taken.toStdString()},
            {"passed", check->passed},
            {"failed", check->failed}};
}

void printReadings(const library::Store& store, const QString& id)
{
    const auto latest = store.runs.latest(id);
    if (!latest)
        return;
    for (const library::StoredReading& r : *latest) {
        const std::string test = r.test.toStdString();
        std::cout << "  " << test << ", taken " << r.taken.toStdString() << '\n';
        for (const std::string& key : bench::figureKeys(test, {&r.reading}))
            if (const auto* figure = bench::figureInfo(test, key))
                std::cout << "    " << bench::titleOf(test, key, *figure) << "  "
                          << bench::cellText(r.reading, key, *figure) << '\n';
    }
}

void printText(const processors::ProcessorInfo& info)
{
    std::cout << info.name << "\n  " << info.id << "\n  " << info.maker << ", " << info.kind << ", "
              << info.format << " " << info.version << "\n  " << info.audio_in << " in, " << info.audio_out
              << " out\n";
    for (const processors::ParameterInfo& p : info.parameters)
        std::cout << "  " << p.key << "  " << p.minimum << " to " << p.maximum << " " << p.unit << ", default "
                  << p.default_value << '\n';
    for (const processors::PresetInfo& preset : info.presets)
        std::cout << "  preset \"" << preset.name << "\"\n";
}

Result<int> run(const Context& context, const ShowOptions& options)
{
    auto described = describe(context, {.id = options.id, .again = options.again});
    if (!described)
        return tl::make_unexpected(described.error());
    const auto& info = *described;
    if (!info)
        std::cerr << "hrack: " << info.error().sentence << '\n';
    else if (!options.json)
        printText(info->info);
    const int status = info ? 0 : static_cast<int>(Blame::Processor);
    auto store = context.openStore();
    if (!store)
        return tl::make_unexpected(store.error());
    const QString id = QString::fromStdString(options.id);
    if (!options.json) {
        printReadings(**store, id);
        if (const auto faults = (*store)->catalogue.faultsOf(id))
            for (const library::QuarantineEntry& q : *faults)
                std::cout << "  quarantined " << q.at.toStdString() << ": it " << hosting::sentence(q.fault)
                          << '\n';
        return status;
    }
    nlohmann::ordered_json document{{"id", options.id}};
    if (info)
        document = processors::toJson(info->info);
    else if (const auto known = (*store)->catalogue.info(id))
        document = processors::toJson(*known);
    document["readings"] = readings(**store, id);
    document["bench_check"] = benchCheck(**store);
    document["quarantine"] = history(**store, id);
    if (!info)
        document["failure"] = faultJson(info.error().fault);
    print(document);
    return status;
}

} // namespace

void addShow(CLI::App& app, Context& context)
{
    auto* command = app.add_subcommand("show", "one processor: parameters, presets, readings, failures");
    const auto options = std::make_shared<ShowOptions>();
    command->add_option("id", options->id, "lv2:URI, ladspa:LIBRARY:LABEL or reference:NAME")->required();
    command->add_flag("--json", options->json, "one JSON document on standard output");
    command->add_flag("--again", options->again, "try it even though it is in quarantine");
    command->callback(
        [&context, options] { context.run = [&context, options] { return run(context, *options); }; });
}

} // namespace hr::cli

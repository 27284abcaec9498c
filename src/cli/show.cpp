// SPDX-License-Identifier: GPL-3.0-or-later
#include "command.h"
#include "processors/description_json.h"

#include <iostream>

namespace hr::cli {

namespace {

struct ShowOptions {
    std::string id;
    bool json = false, again = false;
};

/// The description: from the catalogue, else from a worker that reads it.
Result<processors::ProcessorInfo> describe(const Context& context, const ShowOptions& options)
{
    auto location = find(context, options.id);
    if (!location)
        return tl::make_unexpected(location.error());
    if (auto may = mayTry(context, options.id, options.again); !may)
        return tl::make_unexpected(may.error());
    auto instance = hosting::openInstance(*location);
    if (!instance)
        return tl::make_unexpected(hosting::toError(instance.error(), options.id));
    return (*instance)->info();
}

nlohmann::ordered_json history(library::Store& store, const QString& id)
{
    auto list = nlohmann::ordered_json::array();
    if (auto faults = store.catalogue.faultsOf(id))
        for (const library::QuarantineEntry& q : *faults)
            list.push_back({{"at", q.at.toStdString()},
                            {"stage", hosting::word(q.fault.stage)},
                            {"cause", hosting::word(q.fault.cause)},
                            {"detail", q.fault.detail}});
    return list;
}

nlohmann::ordered_json readings(library::Store& store, const QString& id)
{
    auto all = nlohmann::ordered_json::object();
    if (auto latest = store.readings.latest(id))
        for (const library::StoredReading& r : *latest)
            all[r.test.toStdString()] = {{"taken", r.taken.toStdString()},
                                         {"settings", r.settings},
                                         {"conditions", r.conditions},
                                         {"figures", r.reading.figures}};
    return all;
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
    auto info = describe(context, options);
    if (!info && info.error().blame == Blame::Request)
        return tl::make_unexpected(info.error());
    if (!options.json) {
        if (!info)
            return tl::make_unexpected(info.error());
        printText(*info);
        return 0;
    }
    auto store = context.openStore();
    if (!store)
        return tl::make_unexpected(store.error());
    const QString id = QString::fromStdString(options.id);
    nlohmann::ordered_json document{{"id", options.id}};
    if (info)
        document = processors::toJson(*info);
    else if (const auto known = (*store)->catalogue.info(id))
        document = processors::toJson(*known);
    document["readings"] = readings(**store, id);
    document["quarantine"] = history(**store, id);
    if (!info)
        document["failure"] = info.error().text;
    print(document);
    if (!info)
        std::cerr << "hrack: " << info.error().text << '\n';
    return info ? 0 : static_cast<int>(info.error().blame);
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

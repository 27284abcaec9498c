// SPDX-License-Identifier: GPL-3.0-or-later
#include "command.h"
#include "opened.h"

#include <algorithm>
#include <iostream>

namespace hr::cli {

namespace {

struct SimilarOptions {
    std::string id;
    std::size_t count = 20;
    bool json = false;
};

Result<int> run(const Context& context, const SimilarOptions& options)
{
    auto store = context.openStore();
    if (!store)
        return tl::make_unexpected(store.error());
    auto prints = (*store)->runs.fingerprints();
    if (!prints)
        return tl::make_unexpected(prints.error());
    const auto at = prints->ids.indexOf(QString::fromStdString(options.id));
    if (at < 0) {
        if (auto known = describe(context, {.id = options.id}); !known)
            return tl::make_unexpected(known.error());
        return wrongRequest("\"" + options.id +
                            "\" has not been measured at its defaults: hrack measure it first.");
    }
    auto near = bench::nearest(prints->prints, prints->prints[static_cast<std::size_t>(at)], options.count + 1);
    std::erase_if(near, [&](const bench::Near& n) { return n.index == static_cast<std::size_t>(at); });
    near.resize(std::min(near.size(), options.count));
    auto list = nlohmann::ordered_json::array();
    for (const bench::Near& n : near) {
        const QString id = prints->ids[static_cast<qsizetype>(n.index)];
        auto entry = (*store)->catalogue.entry(id);
        const std::string name = entry ? entry->title().toStdString() : std::string();
        list.push_back({{"id", id.toStdString()}, {"name", name}, {"distance", n.distance}});
        if (!options.json)
            std::cout << n.distance << "\t" << id.toStdString() << "\t" << name << '\n';
    }
    if (options.json)
        print({{"id", options.id}, {"similar", list}});
    return 0;
}

} // namespace

void addSimilar(CLI::App& app, Context& context)
{
    auto* command = app.add_subcommand("similar", "what else behaves like a processor, among those measured");
    const auto options = std::make_shared<SimilarOptions>();
    command->add_option("ID", options->id)->required();
    command->add_option("--count", options->count, "how many at most (20)")->check(CLI::Range(1, 1000));
    command->add_flag("--json", options->json, "one JSON document on standard output");
    command->callback(
        [&context, options] { context.run = [&context, options] { return run(context, *options); }; });
}

} // namespace hr::cli

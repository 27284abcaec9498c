// SPDX-License-Identifier: GPL-3.0-or-later
#include "command.h"
#include "exchange/collection_file.h"

#include <algorithm>
#include <iostream>

namespace hr::cli {

namespace {

struct CollectionOptions {
    std::string name, file;
    bool json = false;
};

Result<library::Collection> named(library::Store& store, const std::string& name)
{
    auto all = store.collections.all();
    if (!all)
        return tl::make_unexpected(all.error());
    const auto found = std::ranges::find(*all, QString::fromStdString(name), &library::Collection::name);
    if (found == all->end())
        return wrongRequest("There is no collection \"" + name + "\".");
    return *found;
}

Result<int> list(library::Store& store, const CollectionOptions& options)
{
    auto all = store.collections.all();
    if (!all)
        return tl::make_unexpected(all.error());
    auto json = nlohmann::ordered_json::array();
    for (const library::Collection& c : *all) {
        json.push_back({{"name", c.name.toStdString()}, {"items", c.items}});
        if (!options.json)
            std::cout << c.name.toStdString() << "\t" << c.items << '\n';
    }
    if (options.json)
        print({{"collections", json}});
    return 0;
}

Result<int> show(library::Store& store, const CollectionOptions& options)
{
    auto collection = named(store, options.name);
    if (!collection)
        return tl::make_unexpected(collection.error());
    auto items = store.collections.items(collection->row_id);
    if (!items)
        return tl::make_unexpected(items.error());
    auto json = nlohmann::ordered_json::array();
    for (const library::CollectionItem& item : *items) {
        json.push_back({{"kind", item.kind.toStdString()}, {"id", item.reference.toStdString()}});
        if (!options.json)
            std::cout << item.reference.toStdString() << '\n';
    }
    if (options.json)
        print({{"name", options.name}, {"items", json}});
    return 0;
}

Result<int> exportTo(library::Store& store, const CollectionOptions& options)
{
    auto collection = named(store, options.name);
    if (!collection)
        return tl::make_unexpected(collection.error());
    if (auto done = exchange::exportCollection(store, collection->row_id, options.file); !done)
        return tl::make_unexpected(done.error());
    return 0;
}

Result<int> importFrom(library::Store& store, const CollectionOptions& options)
{
    if (auto done = exchange::importCollection(store, options.file); !done)
        return tl::make_unexpected(done.error());
    return 0;
}

} // namespace

void addCollection(CLI::App& app, Context& context)
{
    auto* command = app.add_subcommand("collection", "collections as files");
    command->require_subcommand(1);
    const auto options = std::make_shared<CollectionOptions>();
    const auto add = [&](const char* word, const char* help, bool name, bool file,
                         Result<int> (*work)(library::Store&, const CollectionOptions&)) {
        auto* sub = command->add_subcommand(word, help);
        if (name)
            sub->add_option("name", options->name, "of the collection")->required();
        if (file)
            sub->add_option("file", options->file, "JSON file")->required();
        sub->add_flag("--json", options->json, "one JSON document on standard output");
        sub->callback([&context, options, work] {
            context.run = [&context, options, work]() -> Result<int> {
                auto store = context.openStore();
                if (!store)
                    return tl::make_unexpected(store.error());
                return work(**store, *options);
            };
        });
    };
    add("list", "all collections", false, false, list);
    add("show", "what one holds", true, false, show);
    add("export", "write one into a file", true, true, exportTo);
    add("import", "read one from a file", false, true, importFrom);
}

} // namespace hr::cli

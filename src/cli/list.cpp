// SPDX-License-Identifier: GPL-3.0-or-later
#include "command.h"

#include "library/find/finder.h"

#include <iostream>
#include <set>

namespace hr::cli {

namespace {

struct ListOptions {
    std::string query, kind, maker, collection;
    bool json = false;
};

nlohmann::ordered_json toJson(const library::Entry& e)
{
    auto tags = nlohmann::ordered_json::array();
    for (const QString& tag : e.tags)
        tags.push_back(tag.toStdString());
    return {{"id", e.id.toStdString()},
            {"name", e.name.toStdString()},
            {"alias", e.alias.toStdString()},
            {"maker", e.maker.toStdString()},
            {"kind", e.kind.toStdString()},
            {"format", e.format.toStdString()},
            {"audio_in", e.audio_in},
            {"audio_out", e.audio_out},
            {"has_key_input", e.key_in > 0},
            {"state", word(e.state).toStdString()},
            {"favourite", e.favourite},
            {"rating", e.rating},
            {"tags", tags}};
}

Result<std::set<QString>> idsIn(library::Store& store, const std::string& collection)
{
    auto all = store.collections.all();
    if (!all)
        return tl::make_unexpected(all.error());
    for (const library::Collection& c : *all) {
        if (c.name.toStdString() != collection)
            continue;
        auto items = store.collections.items(c.number);
        if (!items)
            return tl::make_unexpected(items.error());
        std::set<QString> ids;
        for (const library::CollectionItem& item : *items)
            ids.insert(item.reference);
        return ids;
    }
    return wrongRequest("There is no collection \"" + collection + "\".");
}

Result<int> run(const Context& context, const ListOptions& options)
{
    auto store = context.openStore();
    if (!store)
        return tl::make_unexpected(store.error());
    auto entries = (*store)->catalogue.entries();
    if (!entries)
        return tl::make_unexpected(entries.error());
    std::optional<std::set<QString>> among;
    const auto narrow = [&among](std::set<QString> ids) {
        if (among)
            std::erase_if(ids, [&](const QString& id) { return !among->contains(id); });
        among = std::move(ids);
    };
    if (!options.query.empty()) {
        auto beside = library::readBeside(**store);
        if (!beside)
            return tl::make_unexpected(beside.error());
        library::Finder finder;
        finder.fill(*entries, *beside);
        std::set<QString> ids;
        for (const int row : finder.find({QString::fromStdString(options.query), {}}).rows)
            ids.insert(finder.entries()[static_cast<std::size_t>(row)].id);
        narrow(std::move(ids));
    }
    if (!options.collection.empty()) {
        auto ids = idsIn(**store, options.collection);
        if (!ids)
            return tl::make_unexpected(ids.error());
        narrow(std::move(*ids));
    }
    const auto is = [](const QString& value, const std::string& asked) {
        return asked.empty() || value.compare(QString::fromStdString(asked), Qt::CaseInsensitive) == 0;
    };
    auto processors = nlohmann::ordered_json::array();
    for (const library::Entry& e : *entries)
        if ((!among || among->contains(e.id)) && is(e.kind, options.kind) && is(e.maker, options.maker)) {
            if (options.json)
                processors.push_back(toJson(e));
            else
                std::cout << e.id.toStdString() << "\t" << e.title().toStdString() << "\t"
                          << e.maker.toStdString() << "\t" << e.kind.toStdString() << "\t"
                          << word(e.state).toStdString() << '\n';
        }
    if (options.json)
        print({{"processors", processors}});
    return 0;
}

} // namespace

void addList(CLI::App& app, Context& context)
{
    auto* command = app.add_subcommand("list", "what the catalogue holds");
    const auto options = std::make_shared<ListOptions>();
    command->add_option("--query", options->query, "words that names, makers, kinds, tags or notes begin with");
    command->add_option("--kind", options->kind, "compressor, equaliser, …");
    command->add_option("--maker", options->maker);
    command->add_option("--collection", options->collection);
    command->add_flag("--json", options->json, "one JSON document on standard output");
    command->callback(
        [&context, options] { context.run = [&context, options] { return run(context, *options); }; });
}

} // namespace hr::cli

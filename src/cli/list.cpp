// SPDX-License-Identifier: GPL-3.0-or-later
#include "command.h"

#include "library/find/membership.h"
#include "processors/kinds.h"

#include <algorithm>
#include <iostream>

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

Result<int> run(const Context& context, const ListOptions& options)
{
    auto store = context.openStore();
    if (!store)
        return tl::make_unexpected(store.error());
    auto entries = (*store)->catalogue.entries();
    auto beside = library::readEntryFacts(**store);
    auto rules = library::readRules(**store);
    auto collections = (*store)->collections.all();
    if (const Error* error = firstError(entries, beside, rules, collections))
        return tl::make_unexpected(*error);
    const QString collection = QString::fromStdString(options.collection);
    if (!collection.isEmpty() &&
        std::ranges::find(*collections, collection, &library::Collection::name) == collections->end())
        return wrongRequest("There is no collection \"" + options.collection + "\".");
    library::Finder finder;
    finder.fill(*entries, *beside);
    library::applyRules(finder, *beside, *rules);
    const auto matching =
        finder.matching({QString::fromStdString(options.query), {}}, library::Finder::References::Always);
    const auto is = [](const QString& value, const std::string& asked) {
        return asked.empty() || value.compare(QString::fromStdString(asked), Qt::CaseInsensitive) == 0;
    };
    const auto isOfKind = [&](const QString& kind) {
        const auto above = processors::kindAbove(kind.toStdString());
        return is(kind, options.kind) || is(QString::fromStdString(std::string(above)), options.kind);
    };
    auto processors = nlohmann::ordered_json::array();
    for (std::size_t i = 0; i < finder.entries().size(); ++i) {
        const library::Entry& e = finder.entries()[i];
        const bool collected = collection.isEmpty() || beside->collections.value(e.id).contains(collection) ||
                               beside->by_rule.value(e.id).contains(collection);
        if (!matching[i] || !collected || !isOfKind(e.kind) || !is(e.maker, options.maker))
            continue;
        if (options.json)
            processors.push_back(toJson(e));
        else
            std::cout << e.id.toStdString() << "\t" << e.title().toStdString() << "\t" << e.maker.toStdString()
                      << "\t" << e.kind.toStdString() << "\t" << word(e.state).toStdString() << '\n';
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

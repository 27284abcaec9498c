// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/collection_file.h"

#include "chain/chain_json.h"
#include "exchange/document.h"
#include "library/find/rule.h"
#include "library/settings_json.h"

#include <algorithm>

namespace hr::exchange {

using nlohmann::ordered_json;

namespace {

constexpr auto format_name = "honest-rack-collection";
constexpr int format_version = 1;
constexpr std::size_t most_items = 100000;

ordered_json itemJson(const library::Store& store, const library::CollectionItem& item)
{
    ordered_json json{{"kind", item.kind.toStdString()}, {"id", item.reference.toStdString()}};
    if (auto entry = store.catalogue.entry(item.reference)) {
        json["name"] = entry->name.toStdString();
        json["maker"] = entry->maker.toStdString();
    }
    json["settings"] = library::settingsToJson(item.settings);
    if (item.isChain())
        json["chain"] = ordered_json::parse(item.chain.toStdString(), nullptr, false);
    return json;
}

} // namespace

Result<void> exportCollection(library::Store& store, qint64 collection, const std::filesystem::path& file)
{
    auto all = store.collections.all();
    auto items = store.collections.items(collection);
    if (!all || !items)
        return tl::make_unexpected(all ? items.error() : all.error());
    const auto found = std::ranges::find(*all, collection, &library::Collection::row_id);
    if (found == all->end())
        return wrongRequest("There is no such collection any more.");
    ordered_json list = ordered_json::array();
    for (const library::CollectionItem& item : *items)
        list.push_back(itemJson(store, item));
    ordered_json document{{"format", format_name},
                          {"version", format_version},
                          {"name", found->name.toStdString()},
                          {"items", list}};
    if (found->byRule())
        document["rule"] = ordered_json::parse(found->rule.toStdString(), nullptr, false);
    return writeDocument(file, document);
}

Result<qint64> importCollection(library::Store& store, const std::filesystem::path& file)
{
    auto read = readDocument(file);
    if (!read)
        return tl::make_unexpected(read.error());
    const ordered_json& document = *read;
    if (!document.is_object() || document.value("format", ordered_json()) != format_name)
        return wrongRequest(file.string() +
                            " is not a collection of Honest Rack: choose a file exported from Keep.");
    if (document.value("version", ordered_json()) != format_version)
        return wrongRequest(file.string() +
                            " was written by a newer version of Honest Rack: use that one to open it.");
    const auto& name = document.value("name", ordered_json());
    const auto& list = document.value("items", ordered_json());
    if (!name.is_string() || !list.is_array() || list.size() > most_items)
        return wrongRequest(file.string() + " is damaged: it lacks a name or a list of items.");

    std::vector<library::CollectionItem> items;
    for (std::size_t i = 0; i < list.size(); ++i) {
        const auto& json = list[i];
        if (!json.is_object() || !json.value("id", ordered_json()).is_string())
            return wrongRequest(file.string() + " is damaged: item " + std::to_string(i + 1) + " has no id.");
        library::CollectionItem item;
        item.reference = QString::fromStdString(json["id"].get<std::string>());
        if (json.value("kind", ordered_json()).is_string())
            item.kind = QString::fromStdString(json["kind"].get<std::string>());
        item.settings = library::settingsFromJson(json.value("settings", ordered_json()));
        if (item.isChain()) {
            const auto chain = chain::fromJson(json.value("chain", ordered_json()));
            if (!chain)
                return wrongRequest(file.string() + " is damaged in item " + std::to_string(i + 1) + ": " +
                                    chain.error().text);
            item.chain = QString::fromStdString(chain::toText(*chain));
        }
        items.push_back(std::move(item));
    }
    const auto rule = document.value("rule", ordered_json());
    const auto asked = library::askedFromRule(QString::fromStdString(rule.dump()));
    return store.collections.insert(QString::fromStdString(name.get<std::string>()), items,
                                    asked ? ruleText(*asked) : QString());
}

} // namespace hr::exchange

// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/collection_file.h"

#include "chain/chain_json.h"
#include "exchange/document.h"
#include "library/find/rule.h"
#include "library/settings_json.h"
#include "processors/json_text.h"

#include <algorithm>
#include <cmath>

namespace hr::exchange {

using nlohmann::ordered_json;

namespace {

constexpr auto format_name = "honest-rack-collection";
constexpr int format_version = 1;
constexpr std::size_t most_items = 100000;

ordered_json itemJson(const library::Store& store, const library::CollectionItem& item)
{
    if (!item.imported.isEmpty() && !store.catalogue.entry(item.reference)) // with its name, maker and all
        if (auto whole = processors::orderedJsonFrom(item.imported.toStdString()); whole.is_object())
            return whole;
    ordered_json json{{"kind", item.kind.toStdString()}, {"id", item.reference.toStdString()}};
    if (auto entry = store.catalogue.entry(item.reference)) {
        json["name"] = entry->name.toStdString();
        json["maker"] = entry->maker.toStdString();
    }
    json["settings"] = library::settingsToJson(item.settings);
    if (item.isChain())
        json["chain"] = processors::orderedJsonFrom(item.chain.toStdString());
    if (item.isParts())
        json["parts"] = processors::orderedJsonFrom(item.chain.toStdString());
    return json;
}

/// A number, or the word of a choice where the processor is known.
std::optional<double> valueOf(const std::optional<processors::ProcessorInfo>& info, const std::string& key,
                              const ordered_json& value)
{
    if (value.is_number() && std::isfinite(value.get<double>()))
        return value.get<double>();
    const auto index = info && value.is_string() ? info->parameterIndex(key) : std::nullopt;
    if (!index)
        return std::nullopt;
    const auto& choices = info->parameters[*index].choices;
    const auto choice = std::ranges::find(choices, value.get<std::string>(), &processors::Choice::label);
    return choice == choices.end() ? std::nullopt : std::optional(choice->value);
}

/// What is not installed keeps what stands in the file; the words of its choices mean something to it alone.
Result<std::vector<processors::Setting>> settingsIn(const ordered_json& json,
                                                    const std::optional<processors::ProcessorInfo>& info)
{
    std::vector<processors::Setting> settings;
    if (json.is_null())
        return settings;
    if (!json.is_object())
        return wrongRequest("its \"settings\" are not an object");
    for (const auto& [key, value] : json.items()) {
        const auto figure = valueOf(info, key, value);
        if (figure)
            settings.push_back({key, *figure});
        else if (!value.is_string())
            return wrongRequest("its setting \"" + key + "\" is neither a number nor the word of a choice");
        else if (info)
            return wrongRequest("its setting \"" + key + "\" has no choice \"" + value.get<std::string>() +
                                "\"");
    }
    return settings;
}

/// A chain or parts, as they were read.
template<class Document>
Result<library::CollectionItem> holding(library::CollectionItem item, const Result<Document>& document)
{
    if (!document)
        return tl::make_unexpected(document.error());
    item.chain = QString::fromStdString(chain::toText(*document));
    return item;
}

Result<library::CollectionItem> itemIn(const library::Store& store, const ordered_json& json)
{
    if (!json.is_object() || !json.value("id", ordered_json()).is_string())
        return wrongRequest("it has no id");
    library::CollectionItem item;
    item.reference = QString::fromStdString(json["id"].get<std::string>());
    const ordered_json kind = json.value("kind", ordered_json("processor"));
    if (kind != "processor" && kind != "chain" && kind != "parts")
        return wrongRequest("its \"kind\" is neither \"processor\" nor \"chain\" nor \"parts\"");
    item.kind = QString::fromStdString(kind.get<std::string>());
    if (item.isChain())
        return holding(std::move(item), chain::fromJson(json.value("chain", ordered_json())));
    if (item.isParts())
        return holding(std::move(item), chain::companyFromJson(json.value("parts", ordered_json())));
    const auto known = store.catalogue.info(item.reference);
    auto settings =
        settingsIn(json.value("settings", ordered_json()), known ? std::optional(*known) : std::nullopt);
    if (!settings)
        return tl::make_unexpected(settings.error());
    item.settings = std::move(*settings);
    if (!known)
        item.imported =
            QString::fromStdString(json.dump(-1, ' ', false, nlohmann::json::error_handler_t::replace));
    return item;
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
        document["rule"] = processors::orderedJsonFrom(found->rule.toStdString());
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
        auto item = itemIn(store, list[i]);
        if (!item)
            return wrongRequest(file.string() + " is damaged in item " + std::to_string(i + 1) + ": " +
                                item.error().text + ".");
        items.push_back(std::move(*item));
    }
    const auto rule = document.value("rule", ordered_json());
    const auto asked = library::queryFromRule(QString::fromStdString(rule.dump()));
    return store.collections.insert(QString::fromStdString(name.get<std::string>()), items,
                                    asked ? ruleText(*asked) : QString());
}

} // namespace hr::exchange

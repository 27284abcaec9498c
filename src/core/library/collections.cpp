// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/collections.h"

#include "library/settings_json.h"
#include "processors/json_text.h"

namespace hr::library {

using nlohmann::ordered_json;

Result<std::vector<Collection>> Collections::all() const
{
    auto rows = m_database.run(QStringLiteral("SELECT row_id, name, (SELECT count(*) FROM collection_items "
                                              "WHERE collection = collections.row_id), rule "
                                              "FROM collections ORDER BY name COLLATE NOCASE"));
    if (!rows)
        return tl::make_unexpected(rows.error());
    std::vector<Collection> found;
    while (rows->next())
        found.push_back({rows->value(0).toLongLong(), rows->value(1).toString(), rows->value(2).toInt(),
                         rows->value(3).toString()});
    return found;
}

Result<std::vector<CollectionItem>> Collections::items(qint64 collection) const
{
    auto rows = m_database.run(
        QStringLiteral("SELECT row_id, kind, reference, settings, chain, imported FROM collection_items "
                       "WHERE collection = ? ORDER BY position, row_id"),
        {collection});
    if (!rows)
        return tl::make_unexpected(rows.error());
    std::vector<CollectionItem> found;
    while (rows->next())
        found.push_back({rows->value(0).toLongLong(), rows->value(1).toString(), rows->value(2).toString(),
                         settingsFromJson(processors::orderedJsonFrom(rows->value(3).toString().toStdString())),
                         rows->value(4).toString(), rows->value(5).toString()});
    return found;
}

Result<void> Collections::checkName(const QString& name, qint64 except) const
{
    if (name.trimmed().isEmpty())
        return wrongRequest("A collection needs a name: type one.");
    auto taken = m_database.run(QStringLiteral("SELECT 1 FROM collections WHERE name = ? AND row_id <> ?"),
                                {name.trimmed(), except});
    if (!taken)
        return tl::make_unexpected(taken.error());
    if (taken->next())
        return wrongRequest("There is a collection \"" + name.trimmed().toStdString() +
                            "\" already: choose another name.");
    return {};
}

Result<QHash<QString, QStringList>> Collections::members() const
{
    auto rows = m_database.run(QStringLiteral("SELECT DISTINCT reference, name FROM collection_items "
                                              "JOIN collections ON collections.row_id = collection "
                                              "WHERE kind = 'processor' ORDER BY name"));
    if (!rows)
        return tl::make_unexpected(rows.error());
    QHash<QString, QStringList> members;
    while (rows->next())
        members[rows->value(0).toString()] << rows->value(1).toString();
    return members;
}

Result<qint64> Collections::create(const QString& name, const QString& rule)
{
    if (auto good = checkName(name, -1); !good)
        return tl::make_unexpected(good.error());
    auto put = m_database.run(QStringLiteral("INSERT INTO collections (name, rule) VALUES (?, ?)"),
                              {name.trimmed(), rule});
    return told(put ? Result<qint64>(put->lastInsertId().toLongLong()) : tl::make_unexpected(put.error()));
}

Result<void> Collections::rename(qint64 collection, const QString& name)
{
    if (auto good = checkName(name, collection); !good)
        return good;
    return told(m_database.change(QStringLiteral("UPDATE collections SET name = ? WHERE row_id = ?"),
                                  {name.trimmed(), collection}));
}

Result<void> Collections::remove(qint64 collection)
{
    return told(m_database.change(QStringLiteral("DELETE FROM collections WHERE row_id = ?"), {collection}));
}

/// What stands there, or later, moves on by one.
Result<void> Collections::makeRoom(qint64 collection, int position)
{
    return m_database.change(QStringLiteral("UPDATE collection_items SET position = position + 1 "
                                            "WHERE collection = ? AND position >= ?"),
                             {collection, position});
}

Result<qint64> Collections::addRow(qint64 collection, const CollectionItem& item, int position)
{
    auto put = m_database.run(
        QStringLiteral(
            "INSERT INTO collection_items (row_id, collection, kind, reference, settings, chain, imported, "
            "position) VALUES (nullif(?, 0), ?, ?, ?, ?, ?, ?, ?)"),
        {item.row_id, collection, item.kind, item.reference,
         QString::fromStdString(settingsToJson(item.settings).dump()), item.chain, item.imported, position});
    if (!put)
        return tl::make_unexpected(put.error());
    return put->lastInsertId().toLongLong();
}

Result<qint64> Collections::add(qint64 collection, const CollectionItem& item, int position)
{
    qint64 row_id = 0;
    auto done = m_database.transaction([&]() -> Result<void> {
        auto last = m_database.run(QStringLiteral("SELECT count(*) FROM collection_items WHERE collection = ?"),
                                   {collection});
        if (!last)
            return tl::make_unexpected(last.error());
        const int at = position >= 0 ? position : last->next() ? last->value(0).toInt() : 0;
        last->finish();
        if (auto room = makeRoom(collection, at); !room)
            return room;
        auto added = addRow(collection, item, at);
        if (!added)
            return tl::make_unexpected(added.error());
        row_id = *added;
        return {};
    });
    return told(done ? Result<qint64>(row_id) : tl::make_unexpected(done.error()));
}

Result<void> Collections::removeItem(qint64 item)
{
    return told(m_database.change(QStringLiteral("DELETE FROM collection_items WHERE row_id = ?"), {item}));
}

Result<qint64> Collections::insert(const QString& name, const std::vector<CollectionItem>& items,
                                   const QString& rule)
{
    qint64 row_id = 0;
    auto done = m_database.transaction([&]() -> Result<void> {
        QString free_name = name.trimmed();
        for (int n = 2; !free_name.isEmpty() && !checkName(free_name, -1); ++n)
            free_name = QStringLiteral("%1 %2").arg(name.trimmed()).arg(n);
        auto made = create(free_name, rule);
        if (!made)
            return tl::make_unexpected(made.error());
        row_id = *made;
        for (std::size_t i = 0; i < items.size(); ++i)
            if (auto added = addRow(row_id, items[i], static_cast<int>(i)); !added)
                return tl::make_unexpected(added.error());
        return {};
    });
    return told(done ? Result<qint64>(row_id) : tl::make_unexpected(done.error()));
}

Result<void> Collections::restore(const Collection& collection, const std::vector<CollectionItem>& items)
{
    return told(m_database.transaction([&]() -> Result<void> {
        auto put =
            m_database.change(QStringLiteral("INSERT INTO collections (row_id, name, rule) VALUES (?, ?, ?)"),
                              {collection.row_id, collection.name, collection.rule});
        for (std::size_t i = 0; put && i < items.size(); ++i)
            if (auto added = addRow(collection.row_id, items[i], static_cast<int>(i)); !added)
                put = tl::make_unexpected(added.error());
        return put;
    }));
}

} // namespace hr::library

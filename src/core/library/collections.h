// SPDX-License-Identifier: GPL-3.0-or-later
//
// What belongs together: picked by hand, in an order of the user's, or made by a rule (find/rule.h) that keeps
// itself up to date and has no items of its own.
#pragma once

#include "library/changes.h"
#include "library/database.h"
#include "processors/description.h"

#include <QHash>
#include <QStringList>
#include <vector>

namespace hr::library {

struct Collection {
    qint64 row_id = 0;
    QString name;
    int items = 0;
    QString rule; ///< empty: by hand

    bool byRule() const { return !rule.isEmpty(); }
};

struct CollectionItem {
    qint64 row_id = 0;
    QString kind = QStringLiteral("processor");
    QString reference;                              ///< the processor's id, or the name of the chain or parts
    std::vector<processors::Setting> settings = {}; ///< values it was kept with; empty: the defaults
    QString chain = {}; ///< of a chain its document (chain/chain_json.h), of parts theirs (chain/company.h)
    QString imported =
        {}; ///< as it stood in the file it came from, for when it is exported and still not installed

    bool isChain() const { return kind == QStringLiteral("chain"); }
    bool isParts() const { return kind == QStringLiteral("parts"); }
};

class Collections {
public:
    Collections(Database& database, Changes& changes) : m_database(database), m_changes(changes) {}

    Result<std::vector<Collection>> all() const;
    Result<std::vector<CollectionItem>> items(qint64 collection) const;
    /// Processor -> names of the collections that hold it.
    Result<QHash<QString, QStringList>> members() const;

    /// Refuses an empty name and one that is taken.
    Result<qint64> create(const QString& name, const QString& rule = {});
    Result<void> rename(qint64 collection, const QString& name);
    Result<void> remove(qint64 collection);

    /// At `position`, or at the end when it is negative; under its own row id where it has one, which must be
    /// free. The row id of the new item.
    Result<qint64> add(qint64 collection, const CollectionItem& item, int position = -1);
    Result<void> removeItem(qint64 item);

    /// A whole collection in one transaction; a name that is taken gets a number behind it.
    Result<qint64> insert(const QString& name, const std::vector<CollectionItem>& items,
                          const QString& rule = {});
    /// One that was removed, with its items, under the row ids that they had.
    Result<void> restore(const Collection& collection, const std::vector<CollectionItem>& items);

private:
    Result<void> makeRoom(qint64 collection, int position);
    Result<qint64> addRow(qint64 collection, const CollectionItem& item, int position);
    Result<void> checkName(const QString& name, qint64 except) const;

    /// The result, after it has been told.
    template<class T>
    Result<T> told(Result<T> result)
    {
        if (result)
            emit m_changes.collectionsChanged();
        return result;
    }

    Database& m_database;
    Changes& m_changes;
};

} // namespace hr::library

// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/store.h"

namespace hr::library {

Result<std::unique_ptr<Store>> Store::open(const std::filesystem::path& directory)
{
    auto database = Database::open(directory);
    if (!database)
        return tl::make_unexpected(database.error());
    std::unique_ptr<Store> store(new Store(std::move(*database)));
    auto recorded = store->catalogue.recordReferences();
    if (!recorded &&
        Database::isSuspect(directory)) { // damage that only shows now: opened again, it is put aside
        store.reset();
        database = Database::open(directory);
        if (!database)
            return tl::make_unexpected(database.error());
        store.reset(new Store(std::move(*database)));
        recorded = store->catalogue.recordReferences();
    }
    if (!recorded)
        return tl::make_unexpected(recorded.error());
    return store;
}

QString Store::setting(const QString& key) const
{
    auto row = m_database->run(QStringLiteral("SELECT value FROM settings WHERE key = ?"), {key});
    return row && row->next() ? row->value(0).toString() : QString();
}

Result<void> Store::setSetting(const QString& key, const QString& value)
{
    auto put = m_database->run(QStringLiteral("INSERT OR REPLACE INTO settings VALUES (?, ?)"), {key, value});
    return put ? Result<void>() : tl::make_unexpected(put.error());
}

} // namespace hr::library

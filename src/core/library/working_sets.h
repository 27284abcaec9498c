// SPDX-License-Identifier: GPL-3.0-or-later
//
// Which processors are offered at all, for one job; the rest stay hidden and unloaded until another set, or
// everything, is chosen.
#pragma once

#include "library/database.h"
#include "library/find/query.h"

namespace hr::library {

/// Those picked by hand and those that the rule finds; with `all_but`, everything else.
struct WorkingSet {
    qint64 row_id = 0;
    QString name;
    Query rule; ///< asks for everything: picked by hand only
    QStringList ids;
    bool all_but = false;
};

class WorkingSets {
public:
    explicit WorkingSets(Database& database) : m_database(database) {}

    /// By name.
    Result<std::vector<WorkingSet>> all() const;

    /// `row_id` 0 makes a new one; one that was removed comes back under its own. Refuses an empty name and one
    /// that is taken. Its row id.
    Result<qint64> put(const WorkingSet& set);
    Result<void> remove(qint64 row_id);

    /// The one in use; 0: everything is offered.
    Result<qint64> inUse() const;
    Result<void> use(qint64 row_id);

private:
    Database& m_database;
};

} // namespace hr::library

// SPDX-License-Identifier: GPL-3.0-or-later
//
// Where a scan looks: the standard folders (hosting/bundles.h) and the user's own, each to be switched off.
// Taking a folder away hides its processors and keeps what was written about them.
#pragma once

#include "library/database.h"

#include <vector>

namespace hr::library {

struct Folder {
    QString path;
    bool own = false; ///< added by the user, who can take it away again
    bool used = true;
    bool there = true; ///< can be read at the moment
};

class Folders {
public:
    explicit Folders(Database& database) : m_database(database) {}

    /// The standard ones in their order, then the user's.
    Result<std::vector<Folder>> all() const;
    /// Those to be searched.
    Result<std::vector<std::filesystem::path>> used() const;

    /// Refuses what is not a folder that can be read, and what is looked in already.
    Result<void> add(const QString& path);
    Result<void> remove(const QString& path); ///< one of the user's
    Result<void> setUsed(const QString& path, bool used);

private:
    Database& m_database;
};

} // namespace hr::library

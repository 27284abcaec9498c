// SPDX-License-Identifier: GPL-3.0-or-later
//
// Line-ups that were saved under a name: who is compared, on which source and section, against what, matched by
// what. Each a document (docs/file-formats.md, "Line-up"), whole.
#pragma once

#include "library/changes.h"
#include "library/documents.h"

#include <vector>

namespace hr::library {

using SavedLineUp = KeptDocument; ///< its name is that of the line-up

class LineUps {
public:
    explicit LineUps(Database& database) : m_database(database) {}

    /// Under a name that is not empty and that no other has; its row id.
    Result<qint64> save(const QString& name, const nlohmann::ordered_json& document);
    /// In the place of what was saved there.
    Result<void> replace(qint64 row_id, const nlohmann::ordered_json& document);
    Result<void> rename(qint64 row_id, const QString& name);
    Result<void> remove(qint64 row_id);
    /// One that was removed, under its own row id.
    Result<void> restore(const SavedLineUp& line_up);

    Result<SavedLineUp> one(qint64 row_id) const;
    /// The one that changed last first; those whose document is damaged are left out, and stay.
    Result<std::vector<SavedLineUp>> all() const;

private:
    Result<void> checkName(const QString& name, qint64 except) const;

    Database& m_database;
};

} // namespace hr::library

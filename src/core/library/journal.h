// SPDX-License-Identifier: GPL-3.0-or-later
//
// The journal that writes itself: what was heard, measured, tried and changed, and when.
#pragma once

#include "library/database.h"

#include <vector>

namespace hr::library {

struct JournalLine {
    QString at;   ///< ISO 8601, UTC
    QString kind; ///< "heard", "measured", "trial", "settings"
    QString text;
};

class Journal {
public:
    explicit Journal(Database& database) : m_database(database) {}

    Result<void> note(const QString& kind, const QString& text);
    /// The newest first; of those that hold all of `words` where there are any.
    Result<std::vector<JournalLine>> newest(int count, const QString& words = {}) const;
    /// Those from `from` to before `until` (ISO 8601, UTC), the oldest first.
    Result<std::vector<JournalLine>> between(const QString& from, const QString& until) const;

private:
    Result<std::vector<JournalLine>> read(const QString& rest, const QVariantList& values) const;

    Database& m_database;
};

} // namespace hr::library

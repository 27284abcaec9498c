// SPDX-License-Identifier: GPL-3.0-or-later
//
// Pages of the notebook: each a document (docs/file-formats.md, "Page"), whole. Two may have one title.
#pragma once

#include "library/documents.h"

#include <vector>

namespace hr::library {

using NotebookPage = KeptDocument; ///< its name is the document's title

class Pages {
public:
    explicit Pages(Database& database) : m_database(database) {}

    /// Its row id; under its own where it has one, which must be free.
    Result<qint64> add(const nlohmann::ordered_json& document, qint64 row_id = 0);
    /// In the place of what was there.
    Result<void> replace(qint64 row_id, const nlohmann::ordered_json& document);
    Result<void> remove(qint64 row_id);

    Result<NotebookPage> one(qint64 row_id) const;
    /// The one that changed last first; of those that hold all of `words` where there are any. Those whose
    /// document is damaged are left out, and stay.
    Result<std::vector<NotebookPage>> all(const QString& words = {}) const;

    struct Title {
        qint64 row_id = 0;
        QString title;
    };
    /// Pages on which this processor is a subject, the one that changed last first.
    Result<std::vector<Title>> about(const QString& processor) const;

private:
    Database& m_database;
};

} // namespace hr::library

// SPDX-License-Identifier: GPL-3.0-or-later
//
// Blind trials that were held: each a document that says everything needed to repeat it, kept for good.
#pragma once

#include "library/changes.h"
#include "library/database.h"

#include <nlohmann/json.hpp>
#include <vector>

namespace hr::library {

/// Of one trial, whoever won: {"format": "honest-rack-trial", "version": 1, "kind": "abx", "started", "ended",
/// "first", "second", "source", "match", "result"}; see docs/file-formats.md.
struct Trial {
    qint64 row_id = 0;
    QString first, second; ///< SetUp::key() of what was compared; of the untreated source: "source"
    nlohmann::ordered_json document;
};

class Trials {
public:
    explicit Trials(Database& database) : m_database(database) {}

    /// Its row id.
    Result<qint64> store(const Trial& trial);
    /// Of these two, whichever was first; the newest first.
    Result<std::vector<Trial>> between(const QString& one, const QString& other) const;
    Result<std::vector<Trial>> all() const;

private:
    Result<std::vector<Trial>> read(const QString& where, const QVariantList& values) const;

    Database& m_database;
};

} // namespace hr::library

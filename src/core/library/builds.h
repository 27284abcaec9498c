// SPDX-License-Identifier: GPL-3.0-or-later
//
// Builds of one processor, such as mono and stereo, LV2 and LADSPA, or two versions, joined under one entry: by
// proposal, which the user confirms or splits.
#pragma once

#include "library/catalogue.h"

namespace hr::library {

/// Those that belong together, the one that stands for all of them first: stereo before mono, LV2 before
/// LADSPA, the newer version before the older.
using BuildGroup = QStringList;

class Builds {
public:
    explicit Builds(Database& database) : m_database(database) {}

    /// What the user said, by id: the id of the one that stands for it, or its own where it stands alone.
    Result<QHash<QString, QString>> decided() const;
    /// All of that once more.
    Result<void> decide(const QHash<QString, QString>& all);
    /// Of these only those that are joined.
    Result<QHash<QString, QString>> joined() const;

    Result<void> join(const BuildGroup& group);
    Result<void> keepApart(const QStringList& ids);

private:
    Database& m_database;
};

/// Name and maker without what tells builds apart ("mono", "2x2", "LADSPA", "v2", "1.4"): equal for builds of
/// one.
QString buildStem(const Entry& entry);

/// Groups of at least two that look like one and of which the user has said nothing (Builds::decided()). The
/// bench's references are never proposed.
std::vector<BuildGroup> proposedBuilds(const std::vector<Entry>& entries,
                                       const QHash<QString, QString>& decided);

/// Which of these to use for a source of so many channels: one that takes as many and works, else the first
/// that works, else the first.
const Entry* fittingBuild(const std::vector<Entry>& builds, int channels);

} // namespace hr::library

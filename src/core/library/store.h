// SPDX-License-Identifier: GPL-3.0-or-later
//
// Everything that is kept on disk, opened together by one thread.
#pragma once

#include "library/builds.h"
#include "library/catalogue.h"
#include "library/collections.h"
#include "library/folders.h"
#include "library/journal.h"
#include "library/line_ups.h"
#include "library/pages.h"
#include "library/presets.h"
#include "library/runs.h"
#include "library/trials.h"
#include "library/working_sets.h"

namespace hr::library {

class Store {
public:
    static Result<std::unique_ptr<Store>> open(const std::filesystem::path& directory);

    Database& database() { return *m_database; }
    /// What is told when something has changed.
    const Changes& changes() const { return m_changes; }

private:
    std::unique_ptr<Database> m_database;
    Changes m_changes;

public:
    Catalogue catalogue;
    Collections collections;
    Runs runs;
    Builds builds;
    Folders folders;
    Presets presets;
    WorkingSets working_sets;
    Trials trials;
    LineUps line_ups;
    Pages pages;
    Journal journal;

    /// Small things to find again at the next start ("session"); an empty string where there is none.
    QString setting(const QString& key) const;
    Result<void> setSetting(const QString& key, const QString& value);

private:
    explicit Store(std::unique_ptr<Database> database)
        : m_database(std::move(database)), catalogue(*m_database, m_changes),
          collections(*m_database, m_changes), runs(*m_database, m_changes), builds(*m_database),
          folders(*m_database), presets(*m_database, m_changes), working_sets(*m_database), trials(*m_database),
          line_ups(*m_database), pages(*m_database), journal(*m_database)
    {
    }
};

} // namespace hr::library

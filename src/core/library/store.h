// SPDX-License-Identifier: GPL-3.0-or-later
//
// Everything that is kept on disk, opened together by one thread.
#pragma once

#include "library/builds.h"
#include "library/catalogue.h"
#include "library/collections.h"
#include "library/folders.h"
#include "library/presets.h"
#include "library/readings.h"
#include "library/working_sets.h"

namespace hr::library {

class Store {
public:
    static Result<std::unique_ptr<Store>> open(const std::filesystem::path& directory);

    Database& database() { return *m_database; }
    Catalogue catalogue;
    Collections collections;
    Readings readings;
    Builds builds;
    Folders folders;
    Presets presets;
    WorkingSets working_sets;

    /// Small things to find again at the next start ("session"); an empty string where there is none.
    QString setting(const QString& key) const;
    Result<void> setSetting(const QString& key, const QString& value);

private:
    explicit Store(std::unique_ptr<Database> database)
        : catalogue(*database), collections(*database), readings(*database), builds(*database),
          folders(*database), presets(*database), working_sets(*database), m_database(std::move(database))
    {
    }

    std::unique_ptr<Database> m_database;
};

} // namespace hr::library

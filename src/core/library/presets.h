// SPDX-License-Identifier: GPL-3.0-or-later
//
// Named complete settings of one processor: the defaults, the maker's, and the user's own.
#pragma once

#include "library/changes.h"
#include "library/database.h"
#include "processors/description.h"

#include <QStringList>
#include <vector>

namespace hr::library {

struct Preset {
    enum class From { Defaults, Maker, User };
    From from = From::User;
    qint64 row_id = 0; ///< the user's only
    QString id;        ///< the maker's: its URI; the user's: "own:ROW_ID"; empty: the defaults
    QString name;
    QString bank; ///< empty: none
    bool favourite = false;
    std::vector<processors::Setting> settings; ///< what is not named is at its default
    std::string state =
        {}; ///< what it sets beside parameters (processors::Processor::setState()); empty: nothing
};

class Presets {
public:
    Presets(Database& database, Changes& changes) : m_database(database), m_changes(changes) {}

    /// The defaults first, then the maker's as delivered, then the user's by bank and name.
    Result<std::vector<Preset>> of(const processors::ProcessorInfo& info) const;

    /// Refuses an empty name and one of the user's that is taken. Its row id.
    Result<qint64> save(const QString& processor, const QString& name, const QString& bank,
                        const std::vector<processors::Setting>& settings, const std::string& state = {});
    /// One that was removed, under its own row id.
    Result<void> restore(const QString& processor, const Preset& preset);
    Result<void> rename(qint64 row_id, const QString& name, const QString& bank);
    Result<void> remove(qint64 row_id);
    Result<void> setFavourite(const QString& processor, const QString& preset, bool favourite);

    /// Presets from elsewhere, in one transaction; a name that is taken gets a number behind it.
    Result<void> insert(const QString& processor, const std::vector<Preset>& presets);

private:
    Result<void> checkName(const QString& processor, const QString& name, qint64 except) const;

    Database& m_database;
    Changes& m_changes;
};

} // namespace hr::library

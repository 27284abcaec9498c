// SPDX-License-Identifier: GPL-3.0-or-later
//
// Named complete settings of one processor: as new, the maker's, and the user's own.
#pragma once

#include "library/database.h"
#include "processors/description.h"

#include <QStringList>
#include <vector>

namespace hr::library {

struct Preset {
    enum class From { New, Maker, User };
    From from = From::User;
    qint64 number = 0; ///< the user's only
    QString id;        ///< the maker's: its URI; the user's: "own:NUMBER"; empty: as new
    QString name;
    QString bank; ///< empty: none
    bool favourite = false;
    std::vector<processors::Setting> settings; ///< what is not named is as new
};

class Presets {
public:
    explicit Presets(Database& database) : m_database(database) {}

    /// As new first, then the maker's as delivered, then the user's by bank and name.
    Result<std::vector<Preset>> of(const processors::ProcessorInfo& info) const;

    /// Refuses an empty name and one of the user's that is taken. Its number.
    Result<qint64> save(const QString& processor, const QString& name, const QString& bank,
                        const std::vector<processors::Setting>& settings);
    Result<void> rename(qint64 number, const QString& name, const QString& bank);
    Result<void> remove(qint64 number);
    Result<void> setFavourite(const QString& processor, const QString& preset, bool favourite);

    /// Presets from elsewhere, in one transaction; a name that is taken gets a number behind it.
    Result<void> insert(const QString& processor, const std::vector<Preset>& presets);

private:
    Result<void> checkName(const QString& processor, const QString& name, qint64 except) const;

    Database& m_database;
};

} // namespace hr::library

// SPDX-License-Identifier: GPL-3.0-or-later
//
// What was measured. A run is one measurement: of which set-up, under which conditions, by which version of the
// bench, and how it ended. Readings belong to runs; their figures lie in a table of their own, which SQL can
// sort and filter by.
#pragma once

#include "bench/fingerprint.h"
#include "bench/suite.h"
#include "library/changes.h"
#include "library/list_figures.h"
#include "library/pictures.h"
#include "library/set_up.h"

namespace hr::library {

struct StoredReading {
    QString test;
    bench::Reading reading;
    QString set_up; ///< SetUp::key(); empty: of a version that did not keep it
    nlohmann::ordered_json settings;
    nlohmann::ordered_json conditions;
    QString taken; ///< UTC, ISO 8601
};

class Runs {
public:
    Runs(Database& database, Changes& changes) : m_database(database), m_changes(changes) {}

    /// All of one measurement in one transaction. What it makes unreachable goes: readings of the same set-up
    /// and conditions that it takes again, and runs that have none left. Lists show processors at their
    /// defaults under standard conditions: others leave them alone.
    Result<void> store(const SetUp& set_up, const bench::Measurement& measurement);

    /// The newest reading of each test of exactly this set-up, under these conditions.
    Result<std::vector<StoredReading>> of(const SetUp& set_up, const bench::Conditions& conditions = {}) const;
    /// The newest of each test of this processor, whatever the set-up.
    Result<std::vector<StoredReading>> latest(const QString& processor) const;

    /// Processors of which lists know something.
    Result<QStringList> measured() const;
    /// Small pictures for lists.
    Result<QHash<QString, Pictures>> pictures() const;
    Result<Pictures> picturesOf(const QString& processor) const;
    /// Figures to sort by, and how it behaves.
    Result<QHash<QString, Figures>> figures() const;
    Result<Figures> figuresOf(const QString& processor) const;

    struct Prints {
        QStringList ids;
        std::vector<bench::Fingerprint> prints; ///< of the ids, in their order
    };
    Result<Prints> fingerprints() const;

private:
    Result<qint64> putRun(const SetUp& set_up, const bench::Measurement& measurement);
    Result<void> putReading(qint64 run, const QString& test, const bench::Reading& reading);
    Result<void> forgetOlder(qint64 run, const SetUp& set_up, const QString& alike);
    Result<void> putInLists(qint64 run, const bench::Measurement& measurement);
    Result<std::vector<StoredReading>> newest(const QString& of, const QVariantList& values) const;

    Database& m_database;
    Changes& m_changes;
};

} // namespace hr::library

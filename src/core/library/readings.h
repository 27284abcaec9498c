// SPDX-License-Identifier: GPL-3.0-or-later
//
// What was measured, with the conditions it was measured under.
#pragma once

#include "bench/fingerprint.h"
#include "bench/suite.h"
#include "library/database.h"
#include "library/figures.h"
#include "library/pictures.h"

#include <QHash>

namespace hr::library {

struct StoredReading {
    QString test;
    bench::Reading reading;
    nlohmann::ordered_json settings;
    nlohmann::ordered_json conditions;
    QString taken; ///< UTC, ISO 8601
};

class Readings {
public:
    explicit Readings(Database& database) : m_database(database) {}

    /// All readings of one measurement, in one transaction. Pictures and figures for lists are of processors as
    /// they are new: readings at other settings leave them alone.
    Result<void> store(const bench::Measurement& measurement);

    /// The newest of each test of this processor.
    Result<std::vector<StoredReading>> latest(const QString& processor) const;

    /// Processors of which there is at least one reading.
    Result<QStringList> measured() const;

    /// Small pictures of the newest readings, by processor.
    Result<QHash<QString, Pictures>> pictures() const;
    Result<Pictures> picturesOf(const QString& processor) const;

    /// Figures to sort by, and how it behaves, by processor.
    Result<QHash<QString, Figures>> figures() const;
    Result<Figures> figuresOf(const QString& processor) const;
    struct Prints {
        QStringList ids;
        std::vector<bench::Fingerprint> prints; ///< of the ids, in their order
    };
    Result<Prints> fingerprints() const;

private:
    Result<void> storePictures(const bench::Measurement& measurement);
    Result<void> storeFigures(const bench::Measurement& measurement);

    Database& m_database;
};

} // namespace hr::library

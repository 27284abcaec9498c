// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/readings.h"

#include "processors/settings.h"

#include <cstring>

namespace hr::library {

using nlohmann::ordered_json;

Result<void> Readings::store(const bench::Measurement& measurement)
{
    const ordered_json document = bench::toJson(measurement);
    const auto text = [&](const char* member) { return QString::fromStdString(document.at(member).dump()); };
    return m_database.transaction([&]() -> Result<void> {
        for (const auto& [test, reading] : measurement.readings) {
            auto put = m_database.run(QStringLiteral("INSERT INTO readings (processor, test, settings, "
                                                     "conditions, reading, taken) VALUES (?, ?, ?, ?, ?, ?)"),
                                      {QString::fromStdString(measurement.processor.id),
                                       QString::fromStdString(test), text("settings"), text("conditions"),
                                       QString::fromStdString(bench::toJson(reading).dump()),
                                       QString::fromStdString(measurement.started)});
            if (!put)
                return tl::make_unexpected(put.error());
        }
        if (measurement.values != processors::defaultValues(measurement.processor))
            return {};
        auto pictured = storePictures(measurement);
        return pictured ? storeFigures(measurement) : pictured;
    });
}

namespace {

Pictures picturesAt(const QSqlQuery& row)
{
    return {row.value(1).toByteArray(), row.value(2).toByteArray(), row.value(3).toByteArray()};
}

constexpr auto pictures_query = "SELECT processor, response, in_out, harmonics FROM pictures";

} // namespace

Result<void> Readings::storePictures(const bench::Measurement& measurement)
{
    const QString id = QString::fromStdString(measurement.processor.id);
    auto pictures = picturesOf(id); // of the tests that were not run this time
    if (!pictures)
        return tl::make_unexpected(pictures.error());
    const Pictures fresh = library::picturesOf(measurement.readings);
    const auto newer = [](const QByteArray& now, const QByteArray& before) {
        const QByteArray& chosen = now.isEmpty() ? before : now;
        return chosen.isNull() ? QByteArray("") : chosen; // never NULL
    };
    auto put =
        m_database.run(QStringLiteral("INSERT OR REPLACE INTO pictures VALUES (?, ?, ?, ?)"),
                       {id, newer(fresh.response, pictures->response), newer(fresh.in_out, pictures->in_out),
                        newer(fresh.harmonics, pictures->harmonics)});
    return put ? Result<void>() : tl::make_unexpected(put.error());
}

namespace {

constexpr auto figures_query = "SELECT processor, thd_percent, realtime_factor, latency_samples, shift_lu, "
                               "idle_dbfs, behaves_like, fingerprint "
                               "FROM figures";

Figures figuresAt(const QSqlQuery& row)
{
    Figures figures;
    int column = 1;
    for (auto figure : {&Figures::thd_percent, &Figures::realtime_factor, &Figures::latency_samples,
                        &Figures::shift_lu, &Figures::idle_dbfs}) {
        if (const QVariant value = row.value(column); !value.isNull())
            figures.*figure = value.toDouble();
        ++column;
    }
    figures.behaves_like = row.value(column).toString();
    return figures;
}

bench::Fingerprint printAt(const QSqlQuery& row)
{
    bench::Fingerprint print = bench::fingerprintOf({});
    if (const QByteArray bytes = row.value(7).toByteArray(); bytes.size() == sizeof print)
        std::memcpy(print.data(), bytes.data(), sizeof print);
    return print;
}

QVariant orNull(const std::optional<double>& figure)
{
    return figure ? QVariant(*figure) : QVariant(QMetaType::fromType<double>());
}

} // namespace

Result<void> Readings::storeFigures(const bench::Measurement& measurement)
{
    const QString id = QString::fromStdString(measurement.processor.id);
    auto row = m_database.run(QLatin1String(figures_query) + QStringLiteral(" WHERE processor = ?"), {id});
    if (!row)
        return tl::make_unexpected(row.error());
    Figures figures = library::figuresOf(measurement.readings);
    bench::Fingerprint print = bench::fingerprintOf(measurement.readings);
    if (row->next()) { // of the tests that were not run this time
        figures = merged(figures, figuresAt(*row));
        print = bench::merged(print, printAt(*row));
    }
    row->finish();
    return m_database.change(QStringLiteral("INSERT OR REPLACE INTO figures VALUES (?, ?, ?, ?, ?, ?, ?, ?)"),
                             {id, orNull(figures.thd_percent), orNull(figures.realtime_factor),
                              orNull(figures.latency_samples), orNull(figures.shift_lu),
                              orNull(figures.idle_dbfs), figures.behaves_like,
                              QByteArray(reinterpret_cast<const char*>(print.data()), sizeof print)});
}

Result<QHash<QString, Figures>> Readings::figures() const
{
    auto rows = m_database.run(QLatin1String(figures_query));
    if (!rows)
        return tl::make_unexpected(rows.error());
    QHash<QString, Figures> all;
    while (rows->next())
        all.insert(rows->value(0).toString(), figuresAt(*rows));
    return all;
}

Result<Figures> Readings::figuresOf(const QString& processor) const
{
    auto rows =
        m_database.run(QLatin1String(figures_query) + QStringLiteral(" WHERE processor = ?"), {processor});
    if (!rows)
        return tl::make_unexpected(rows.error());
    return rows->next() ? figuresAt(*rows) : Figures();
}

Result<Readings::Prints> Readings::fingerprints() const
{
    auto rows = m_database.run(QLatin1String(figures_query));
    if (!rows)
        return tl::make_unexpected(rows.error());
    Prints all;
    while (rows->next()) {
        all.ids << rows->value(0).toString();
        all.prints.push_back(printAt(*rows));
    }
    return all;
}

Result<QHash<QString, Pictures>> Readings::pictures() const
{
    auto rows = m_database.run(QLatin1String(pictures_query));
    if (!rows)
        return tl::make_unexpected(rows.error());
    QHash<QString, Pictures> all;
    while (rows->next())
        all.insert(rows->value(0).toString(), picturesAt(*rows));
    return all;
}

Result<Pictures> Readings::picturesOf(const QString& processor) const
{
    auto rows =
        m_database.run(QLatin1String(pictures_query) + QStringLiteral(" WHERE processor = ?"), {processor});
    if (!rows)
        return tl::make_unexpected(rows.error());
    return rows->next() ? picturesAt(*rows) : Pictures();
}

Result<std::vector<StoredReading>> Readings::latest(const QString& processor) const
{
    auto rows = m_database.run(
        QStringLiteral("SELECT test, reading, settings, conditions, taken FROM readings WHERE number IN "
                       "(SELECT max(number) FROM readings WHERE processor = ? GROUP BY test) ORDER BY number"),
        {processor});
    if (!rows)
        return tl::make_unexpected(rows.error());
    std::vector<StoredReading> found;
    while (rows->next()) {
        const auto json = [&](int column) {
            return ordered_json::parse(rows->value(column).toString().toStdString(), nullptr, false);
        };
        if (auto reading = bench::readingFromJson(json(1)))
            found.push_back(
                {rows->value(0).toString(), std::move(*reading), json(2), json(3), rows->value(4).toString()});
    }
    return found;
}

Result<QStringList> Readings::measured() const
{
    return m_database.strings(QStringLiteral("SELECT DISTINCT processor FROM readings"));
}

} // namespace hr::library

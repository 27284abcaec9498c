// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/runs.h"

#include "bench/behaviour.h"
#include "processors/json_text.h"

#include <cstring>

namespace hr::library {

using nlohmann::ordered_json;

namespace {

QString textOf(const ordered_json& value)
{
    return QString::fromStdString(value.dump(-1, ' ', false, ordered_json::error_handler_t::replace));
}

constexpr auto earlier_print_bytes =
    static_cast<qsizetype>(bench::fingerprint_parts[3].first) * static_cast<qsizetype>(sizeof(float));

QString keyOf(const bench::Conditions& conditions)
{
    return QString::fromStdString(conditions.identity());
}

/// Every number of a reading by its key; those of a group as "at_100_hz.thd_percent".
std::vector<std::pair<QString, double>> numbersOf(const ordered_json& figures, const QString& group = {})
{
    std::vector<std::pair<QString, double>> numbers;
    for (const auto& [key, value] : figures.items()) {
        const QString name = group + QString::fromStdString(key);
        if (value.is_number())
            numbers.emplace_back(name, value.get<double>());
        else if (value.is_boolean())
            numbers.emplace_back(name, value.get<bool>() ? 1.0 : 0.0);
        else if (value.is_object() && group.isEmpty())
            for (auto& inside : numbersOf(value, name + QLatin1Char('.')))
                numbers.push_back(std::move(inside));
    }
    return numbers;
}

} // namespace

// --- storing -----------------------------------------------------------------------------------------

Result<void> Runs::store(const SetUp& set_up, const bench::Measurement& measurement)
{
    auto done = m_database.transaction([&]() -> Result<void> {
        auto run = putRun(set_up, measurement);
        if (!run)
            return tl::make_unexpected(run.error());
        for (const auto& [test, reading] : measurement.readings)
            if (auto put = putReading(*run, QString::fromStdString(test), reading); !put)
                return put;
        if (auto gone = forgetOlder(*run, set_up, keyOf(measurement.conditions)); !gone)
            return gone;
        return set_up.at_defaults && measurement.conditions == bench::Conditions()
                   ? putInLists(*run, measurement)
                   : Result<void>();
    });
    if (done)
        emit m_changes.measured(set_up.processor, set_up.key());
    return done;
}

Result<qint64> Runs::putRun(const SetUp& set_up, const bench::Measurement& measurement)
{
    ordered_json failure;
    if (measurement.failure)
        failure = {{"stage", word(measurement.failure->fault.phase)},
                   {"cause", word(measurement.failure->fault.cause)},
                   {"test", measurement.failure->test},
                   {"detail", measurement.failure->fault.detail}};
    auto put = m_database.run(
        QStringLiteral(
            "INSERT INTO runs (processor, set_up, build, preset, state, settings, title, conditions, alike, "
            "bench_version, started, outcome, failure) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)"),
        {set_up.processor, set_up.key(), set_up.build, set_up.preset,
         set_up.state.empty() ? QByteArray("") : QByteArray::fromStdString(set_up.state),
         textOf(set_up.settings), QString::fromStdString(measurement.processor.name),
         textOf(bench::conditionsJson(measurement)), keyOf(measurement.conditions),
         QString::fromStdString(bench::benchVersion()), QString::fromStdString(measurement.started),
         QString::fromStdString(measurement.outcome()), measurement.failure ? textOf(failure) : QString()});
    return put ? Result<qint64>(put->lastInsertId().toLongLong()) : tl::make_unexpected(put.error());
}

Result<void> Runs::putReading(qint64 run, const QString& test, const bench::Reading& reading)
{
    auto put = m_database.change(QStringLiteral("INSERT INTO readings (run, test, reading) VALUES (?, ?, ?)"),
                                 {run, test, textOf(bench::storedJson(reading))});
    for (const auto& [key, value] : numbersOf(reading.figures)) {
        if (!put)
            return put;
        put = m_database.change(QStringLiteral("INSERT INTO figures VALUES (?, ?, ?, ?)"),
                                {run, test, key, value});
    }
    return put;
}

/// Nobody can reach what has been taken again, nor what a version before this one has kept of the same.
Result<void> Runs::forgetOlder(qint64 run, const SetUp& set_up, const QString& alike)
{
    const QVariantList values{set_up.key(), alike, run, run};
    const QString older = QStringLiteral("IN (SELECT row_id FROM runs WHERE set_up = ? AND alike = ? AND "
                                         "row_id < ?) AND test IN (SELECT test FROM readings WHERE run = ?)");
    auto gone = m_database.change(QStringLiteral("DELETE FROM readings WHERE run ") + older, values);
    if (gone)
        gone = m_database.change(QStringLiteral("DELETE FROM figures WHERE run ") + older, values);
    if (gone) // the last failure stays, as what is known of it
        gone = m_database.change(
            QStringLiteral("DELETE FROM runs WHERE set_up = ? AND row_id < ? AND row_id NOT IN "
                           "(SELECT run FROM readings)"),
            {set_up.key(), run});
    return gone;
}

/// Pictures, behaviour and which run stands for each test; of the tests that were not run this time, what there
/// was.
Result<void> Runs::putInLists(qint64 run, const bench::Measurement& measurement)
{
    const QString id = QString::fromStdString(measurement.processor.id);
    auto done = Result<void>();
    for (const auto& [test, reading] : measurement.readings)
        if (done)
            done = m_database.change(QStringLiteral("INSERT OR REPLACE INTO standing VALUES (?, ?, ?)"),
                                     {id, QString::fromStdString(test), run});
    if (!done)
        return done;
    auto pictures = picturesOf(id);
    if (!pictures)
        return tl::make_unexpected(pictures.error());
    const Pictures fresh = library::picturesOf(measurement.readings);
    const auto newer = [](const QByteArray& now, const QByteArray& before) {
        const QByteArray& chosen = now.isEmpty() ? before : now;
        return chosen.isNull() ? QByteArray("") : chosen; // never NULL
    };
    done =
        m_database.change(QStringLiteral("INSERT OR REPLACE INTO pictures VALUES (?, ?, ?, ?)"),
                          {id, newer(fresh.response, pictures->response), newer(fresh.in_out, pictures->in_out),
                           newer(fresh.harmonics, pictures->harmonics)});
    if (!done)
        return done;
    // What it behaves like follows from all there is, not only from what was run this time.
    auto all = newest(QStringLiteral("runs.row_id IN (SELECT run FROM standing WHERE processor = ?)"), {id});
    if (!all)
        return tl::make_unexpected(all.error());
    std::vector<std::pair<std::string, bench::Reading>> readings;
    for (StoredReading& stored : *all)
        readings.emplace_back(stored.test.toStdString(), std::move(stored.reading));
    const bench::Fingerprint print = bench::fingerprintOf(readings);
    return m_database.change(QStringLiteral("INSERT OR REPLACE INTO behaviours VALUES (?, ?, ?)"),
                             {id, QString::fromStdString(bench::behavesLike(readings).value_or(std::string())),
                              QByteArray(reinterpret_cast<const char*>(print.data()), sizeof print)});
}

// --- readings ----------------------------------------------------------------------------------------

Result<std::vector<StoredReading>> Runs::newest(const QString& of, const QVariantList& values) const
{
    auto rows = m_database.run(
        QStringLiteral(
            "SELECT test, reading, set_up, settings, conditions, started FROM readings "
            "JOIN runs ON runs.row_id = run WHERE readings.row_id IN (SELECT max(readings.row_id) FROM "
            "readings JOIN runs ON runs.row_id = run WHERE %1 GROUP BY test) ORDER BY readings.row_id")
            .arg(of),
        values);
    if (!rows)
        return tl::make_unexpected(rows.error());
    std::vector<StoredReading> found;
    while (rows->next()) {
        const auto json = [&](int column) {
            return processors::orderedJsonFrom(rows->value(column).toString().toStdString());
        };
        if (auto reading = bench::readingFromJson(json(1)))
            found.push_back({rows->value(0).toString(), std::move(*reading), rows->value(2).toString(), json(3),
                             json(4), rows->value(5).toString()});
    }
    return found;
}

Result<std::vector<StoredReading>> Runs::of(const SetUp& set_up, const bench::Conditions& conditions) const
{
    return newest(QStringLiteral("set_up = ? AND alike = ?"), {set_up.key(), keyOf(conditions)});
}

Result<std::vector<StoredReading>> Runs::latest(const QString& processor) const
{
    return newest(QStringLiteral("processor = ?"), {processor});
}

// --- lists -------------------------------------------------------------------------------------------

Result<QStringList> Runs::measured() const
{
    return m_database.strings(QStringLiteral("SELECT DISTINCT processor FROM standing"));
}

namespace {

Pictures picturesAt(const QSqlQuery& row)
{
    return {row.value(1).toByteArray(), row.value(2).toByteArray(), row.value(3).toByteArray()};
}

constexpr auto pictures_query = "SELECT processor, response, in_out, harmonics FROM pictures";

/// All figures in lists, of all processors or of one.
Result<QHash<QString, Figures>> readFigures(Database& database, const QString& which,
                                            const QVariantList& values)
{
    QHash<QString, Figures> all;
    for (int at = 0; at < static_cast<int>(listFigures().size()); ++at) {
        const ListFigure& figure = listFigures()[static_cast<std::size_t>(at)];
        auto rows =
            database.run(QStringLiteral("SELECT processor, value FROM standing JOIN figures USING (run, test) "
                                        "WHERE test = ? AND key = ?") +
                             which,
                         QVariantList{figure.test, QString::fromStdString(figure.info->key)} + values);
        if (!rows)
            return tl::make_unexpected(rows.error());
        while (rows->next()) {
            Figures& of = all[rows->value(0).toString()];
            of.values.resize(listFigures().size());
            of.values[static_cast<std::size_t>(at)] = rows->value(1).toDouble();
        }
    }
    auto rows = database.run(
        QStringLiteral("SELECT processor, behaves_like FROM behaviours WHERE true") + which, values);
    if (!rows)
        return tl::make_unexpected(rows.error());
    while (rows->next())
        all[rows->value(0).toString()].behaves_like = rows->value(1).toString();
    return all;
}

} // namespace

Result<QHash<QString, Figures>> Runs::figures() const
{
    return readFigures(m_database, {}, {});
}

Result<Figures> Runs::figuresOf(const QString& processor) const
{
    auto all = readFigures(m_database, QStringLiteral(" AND processor = ?"), {processor});
    return all ? Result<Figures>(all->value(processor)) : tl::make_unexpected(all.error());
}

Result<Runs::Prints> Runs::fingerprints() const
{
    auto rows = m_database.run(QStringLiteral("SELECT processor, fingerprint FROM behaviours"));
    if (!rows)
        return tl::make_unexpected(rows.error());
    Prints all;
    while (rows->next()) {
        bench::Fingerprint print = bench::fingerprintOf({});
        // An earlier version knew of fewer parts: they came first.
        const QByteArray bytes = rows->value(1).toByteArray();
        if (bytes.size() == sizeof print || bytes.size() == earlier_print_bytes)
            std::memcpy(print.data(), bytes.data(), static_cast<std::size_t>(bytes.size()));
        all.ids << rows->value(0).toString();
        all.prints.push_back(print);
    }
    return all;
}

Result<QHash<QString, Pictures>> Runs::pictures() const
{
    auto rows = m_database.run(QLatin1String(pictures_query));
    if (!rows)
        return tl::make_unexpected(rows.error());
    QHash<QString, Pictures> all;
    while (rows->next())
        all.insert(rows->value(0).toString(), picturesAt(*rows));
    return all;
}

Result<Pictures> Runs::picturesOf(const QString& processor) const
{
    auto rows =
        m_database.run(QLatin1String(pictures_query) + QStringLiteral(" WHERE processor = ?"), {processor});
    if (!rows)
        return tl::make_unexpected(rows.error());
    return rows->next() ? picturesAt(*rows) : Pictures();
}

} // namespace hr::library

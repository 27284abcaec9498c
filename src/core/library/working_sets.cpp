// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/working_sets.h"

#include "library/find/rule.h"

#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>

namespace hr::library {

namespace {

QString textOf(const WorkingSet& set)
{
    const QJsonObject object{{QStringLiteral("rule"), ruleText(set.rule)},
                             {QStringLiteral("ids"), QJsonArray::fromStringList(set.ids)},
                             {QStringLiteral("all_but"), set.all_but}};
    return QString::fromUtf8(QJsonDocument(object).toJson(QJsonDocument::Compact));
}

WorkingSet fromText(qint64 row_id, const QString& name, const QString& text)
{
    const QJsonObject object = QJsonDocument::fromJson(text.toUtf8()).object();
    WorkingSet set{row_id, name, {}, {}, object.value(QStringLiteral("all_but")).toBool()};
    set.rule = queryFromRule(object.value(QStringLiteral("rule")).toString()).value_or(Query());
    for (const QJsonValue id : object.value(QStringLiteral("ids")).toArray())
        set.ids << id.toString();
    return set;
}

} // namespace

Result<std::vector<WorkingSet>> WorkingSets::all() const
{
    auto rows = m_database.run(
        QStringLiteral("SELECT row_id, name, rule FROM working_sets ORDER BY name COLLATE NOCASE"));
    if (!rows)
        return tl::make_unexpected(rows.error());
    std::vector<WorkingSet> sets;
    while (rows->next())
        sets.push_back(
            fromText(rows->value(0).toLongLong(), rows->value(1).toString(), rows->value(2).toString()));
    return sets;
}

Result<qint64> WorkingSets::put(const WorkingSet& set)
{
    const QString name = set.name.trimmed();
    if (name.isEmpty())
        return wrongRequest("A working set needs a name: type one.");
    auto taken = m_database.run(QStringLiteral("SELECT 1 FROM working_sets WHERE name = ? AND row_id <> ?"),
                                {name, set.row_id});
    if (!taken)
        return tl::make_unexpected(taken.error());
    if (taken->next())
        return wrongRequest("There is a working set \"" + name.toStdString() +
                            "\" already: choose another name.");
    taken->finish();
    auto made = m_database.run(QStringLiteral("INSERT OR REPLACE INTO working_sets (row_id, name, rule) "
                                              "VALUES (nullif(?, 0), ?, ?)"),
                               {set.row_id, name, textOf(set)});
    return made ? Result<qint64>(made->lastInsertId().toLongLong()) : tl::make_unexpected(made.error());
}

Result<void> WorkingSets::remove(qint64 row_id)
{
    return m_database.change(QStringLiteral("DELETE FROM working_sets WHERE row_id = ?"), {row_id});
}

Result<qint64> WorkingSets::inUse() const
{
    auto row = m_database.run(QStringLiteral(
        "SELECT row_id FROM working_sets JOIN settings ON value = row_id WHERE key = 'working_set'"));
    if (!row)
        return tl::make_unexpected(row.error());
    return row->next() ? row->value(0).toLongLong() : 0;
}

Result<void> WorkingSets::use(qint64 row_id)
{
    return m_database.change(QStringLiteral("INSERT OR REPLACE INTO settings VALUES ('working_set', ?)"),
                             {QString::number(row_id)});
}

} // namespace hr::library

// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/journal.h"

#include <QDateTime>

namespace hr::library {

Result<void> Journal::note(const QString& kind, const QString& text)
{
    return m_database.change(QStringLiteral("INSERT INTO journal (at, kind, text) VALUES (?, ?, ?)"),
                             {QDateTime::currentDateTimeUtc().toString(Qt::ISODate), kind, text});
}

Result<std::vector<JournalLine>> Journal::newest(int count, const QString& words) const
{
    QString where;
    QVariantList values;
    for (QString word : words.split(QLatin1Char(' '), Qt::SkipEmptyParts)) {
        for (const QChar special : {QLatin1Char('\\'), QLatin1Char('%'), QLatin1Char('_')})
            word.replace(special, QLatin1Char('\\') + QString(special));
        where += (where.isEmpty() ? QStringLiteral("WHERE") : QStringLiteral("AND")) +
                 QStringLiteral(" text LIKE ? ESCAPE '\\' ");
        values << QLatin1Char('%') + word + QLatin1Char('%');
    }
    return read(where + QStringLiteral("ORDER BY row_id DESC LIMIT ?"), values << count);
}

Result<std::vector<JournalLine>> Journal::between(const QString& from, const QString& until) const
{
    return read(QStringLiteral("WHERE at >= ? AND at < ? ORDER BY row_id"), {from, until});
}

Result<std::vector<JournalLine>> Journal::read(const QString& rest, const QVariantList& values) const
{
    auto rows = m_database.run(QStringLiteral("SELECT at, kind, text FROM journal ") + rest, values);
    if (!rows)
        return tl::make_unexpected(rows.error());
    std::vector<JournalLine> lines;
    while (rows->next())
        lines.push_back({rows->value(0).toString(), rows->value(1).toString(), rows->value(2).toString()});
    return lines;
}

} // namespace hr::library

// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/line_ups.h"

#include <QDateTime>

namespace hr::library {

using nlohmann::ordered_json;

namespace {

QString now()
{
    return QDateTime::currentDateTimeUtc().toString(Qt::ISODate);
}

} // namespace

Result<void> LineUps::checkName(const QString& name, qint64 except) const
{
    if (name.trimmed().isEmpty())
        return wrongRequest("A line-up needs a name.");
    auto same = m_database.run(QStringLiteral("SELECT 1 FROM line_ups WHERE name = ? AND row_id != ?"),
                               {name.trimmed(), except});
    if (!same)
        return tl::make_unexpected(same.error());
    return same->next() ? wrongRequest("There is a line-up “" + name.trimmed().toStdString() +
                                       "” already: choose another name.")
                        : Result<void>();
}

Result<qint64> LineUps::save(const QString& name, const ordered_json& document)
{
    if (auto free = checkName(name, 0); !free)
        return tl::make_unexpected(free.error());
    auto put = m_database.run(QStringLiteral("INSERT INTO line_ups (name, changed, document) VALUES (?, ?, ?)"),
                              {name.trimmed(), now(), documentText(document)});
    if (!put)
        return tl::make_unexpected(put.error());
    return put->lastInsertId().toLongLong();
}

Result<void> LineUps::replace(qint64 row_id, const ordered_json& document)
{
    return m_database.change(QStringLiteral("UPDATE line_ups SET changed = ?, document = ? WHERE row_id = ?"),
                             {now(), documentText(document), row_id});
}

Result<void> LineUps::rename(qint64 row_id, const QString& name)
{
    if (auto free = checkName(name, row_id); !free)
        return free;
    return m_database.change(QStringLiteral("UPDATE line_ups SET name = ? WHERE row_id = ?"),
                             {name.trimmed(), row_id});
}

Result<void> LineUps::remove(qint64 row_id)
{
    return m_database.change(QStringLiteral("DELETE FROM line_ups WHERE row_id = ?"), {row_id});
}

Result<void> LineUps::restore(const SavedLineUp& line_up)
{
    if (auto free = checkName(line_up.name, line_up.row_id); !free)
        return free;
    return m_database.change(
        QStringLiteral("INSERT INTO line_ups (row_id, name, changed, document) VALUES (?, ?, ?, ?)"),
        {line_up.row_id, line_up.name, line_up.changed, documentText(line_up.document)});
}

Result<SavedLineUp> LineUps::one(qint64 row_id) const
{
    auto found = readDocuments(m_database, QStringLiteral("line_ups"), QStringLiteral("name"),
                               QStringLiteral("WHERE row_id = ?"), {row_id});
    if (!found)
        return tl::make_unexpected(found.error());
    if (found->empty())
        return wrongRequest("This line-up is not there any more, or could not be read.");
    return std::move(found->front());
}

Result<std::vector<SavedLineUp>> LineUps::all() const
{
    return readDocuments(m_database, QStringLiteral("line_ups"), QStringLiteral("name"));
}

} // namespace hr::library

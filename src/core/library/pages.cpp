// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/pages.h"

#include <QDateTime>
#include <algorithm>

namespace hr::library {

using nlohmann::ordered_json;

namespace {

QString pageTitle(const ordered_json& document)
{
    return QString::fromStdString(document.value("title", std::string()));
}

QString changedNow()
{
    return QDateTime::currentDateTimeUtc().toString(Qt::ISODateWithMs);
}

/// What people have written, and whom it is about: neither keys nor frozen figures.
QString searched(const ordered_json& document)
{
    QString text = pageTitle(document);
    const auto add = [&text](const ordered_json& of, const char* list,
                             std::initializer_list<const char*> keys) {
        const auto found = of.find(list);
        if (found == of.end() || !found->is_array())
            return;
        for (const auto& one : *found)
            for (const char* key : keys)
                if (one.is_object() && one.contains(key) && one[key].is_string())
                    text += QLatin1Char('\n') + QString::fromStdString(one[key].get<std::string>());
    };
    add(document, "subjects", {"title", "maker"});
    add(document, "blocks", {"markdown", "heading"});
    return text;
}

} // namespace

Result<qint64> Pages::add(const ordered_json& document, qint64 row_id)
{
    auto put = m_database.run(
        QStringLiteral("INSERT INTO pages (row_id, title, changed, document) VALUES (?, ?, ?, ?)"),
        {row_id > 0 ? QVariant(row_id) : QVariant(QMetaType::fromType<qint64>()), pageTitle(document),
         changedNow(), documentText(document)});
    if (!put)
        return tl::make_unexpected(put.error());
    return put->lastInsertId().toLongLong();
}

Result<void> Pages::replace(qint64 row_id, const ordered_json& document)
{
    return m_database.change(
        QStringLiteral("UPDATE pages SET title = ?, changed = ?, document = ? WHERE row_id = ?"),
        {pageTitle(document), changedNow(), documentText(document), row_id});
}

Result<void> Pages::remove(qint64 row_id)
{
    return m_database.change(QStringLiteral("DELETE FROM pages WHERE row_id = ?"), {row_id});
}

Result<NotebookPage> Pages::one(qint64 row_id) const
{
    auto found = readDocuments(m_database, QStringLiteral("pages"), QStringLiteral("title"),
                               QStringLiteral("WHERE row_id = ?"), {row_id});
    if (!found)
        return tl::make_unexpected(found.error());
    if (found->empty())
        return wrongRequest("This page is not in the notebook any more.");
    return std::move(found->front());
}

Result<std::vector<NotebookPage>> Pages::all(const QString& words) const
{
    auto pages = readDocuments(m_database, QStringLiteral("pages"), QStringLiteral("title"));
    const QStringList wanted = words.split(QLatin1Char(' '), Qt::SkipEmptyParts);
    if (pages && !wanted.isEmpty())
        std::erase_if(*pages, [&wanted](const NotebookPage& page) {
            const QString text = searched(page.document);
            return !std::ranges::all_of(
                wanted, [&text](const QString& word) { return text.contains(word, Qt::CaseInsensitive); });
        });
    return pages;
}

Result<std::vector<Pages::Title>> Pages::about(const QString& processor) const
{
    // As documentText() writes it; in what people write, quotation marks are escaped.
    const QString member = QStringLiteral("\"processor\":") + documentText(processor.toStdString());
    auto rows = m_database.run(QStringLiteral("SELECT row_id, title FROM pages WHERE instr(document, ?) > 0 "
                                              "ORDER BY changed DESC, row_id DESC"),
                               {member});
    if (!rows)
        return tl::make_unexpected(rows.error());
    std::vector<Title> found;
    while (rows->next())
        found.push_back({rows->value(0).toLongLong(), rows->value(1).toString()});
    return found;
}

} // namespace hr::library

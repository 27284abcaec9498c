// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/trials.h"

#include "processors/json_text.h"

namespace hr::library {

using nlohmann::ordered_json;

Result<qint64> Trials::store(const Trial& trial)
{
    const std::string text = trial.document.dump(-1, ' ', false, ordered_json::error_handler_t::replace);
    auto put = m_database.run(QStringLiteral("INSERT INTO trials (first, second, document) VALUES (?, ?, ?)"),
                              {trial.first, trial.second, QString::fromStdString(text)});
    if (!put)
        return tl::make_unexpected(put.error());
    return put->lastInsertId().toLongLong();
}

Result<std::vector<Trial>> Trials::between(const QString& one, const QString& other) const
{
    return read(QStringLiteral("WHERE (first = ? AND second = ?) OR (first = ? AND second = ?)"),
                {one, other, other, one});
}

Result<std::vector<Trial>> Trials::all() const
{
    return read({}, {});
}

Result<std::vector<Trial>> Trials::read(const QString& where, const QVariantList& values) const
{
    auto rows = m_database.run(QStringLiteral("SELECT row_id, first, second, document FROM trials ") + where +
                                   QStringLiteral(" ORDER BY row_id DESC"),
                               values);
    if (!rows)
        return tl::make_unexpected(rows.error());
    std::vector<Trial> found;
    while (rows->next()) {
        auto document = processors::orderedJsonFrom(rows->value(3).toString().toStdString());
        if (document.is_object()) // one that is damaged is left out; it stays in the table
            found.push_back({rows->value(0).toLongLong(), rows->value(1).toString(), rows->value(2).toString(),
                             std::move(document)});
    }
    return found;
}

} // namespace hr::library

// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/documents.h"

#include "processors/json_text.h"

namespace hr::library {

using nlohmann::ordered_json;

QString documentText(const ordered_json& document)
{
    return QString::fromStdString(document.dump(-1, ' ', false, ordered_json::error_handler_t::replace));
}

Result<std::vector<KeptDocument>> readDocuments(const Database& database, const QString& table,
                                                const QString& name, const QString& where,
                                                const QVariantList& values)
{
    auto rows = database.run(QStringLiteral("SELECT row_id, %1, changed, document FROM %2 ").arg(name, table) +
                                 where + QStringLiteral(" ORDER BY changed DESC, row_id DESC"),
                             values);
    if (!rows)
        return tl::make_unexpected(rows.error());
    std::vector<KeptDocument> found;
    while (rows->next()) {
        auto document = processors::orderedJsonFrom(rows->value(3).toString().toStdString());
        if (document.is_object())
            found.push_back({rows->value(0).toLongLong(), rows->value(1).toString(), rows->value(2).toString(),
                             std::move(document)});
    }
    return found;
}

} // namespace hr::library

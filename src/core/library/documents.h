// SPDX-License-Identifier: GPL-3.0-or-later
//
// Documents kept whole in a table of their own, under a name: saved line-ups, pages of the notebook.
#pragma once

#include "library/database.h"

#include <nlohmann/json.hpp>
#include <vector>

namespace hr::library {

struct KeptDocument {
    qint64 row_id = 0;
    QString name;
    QString changed; ///< ISO 8601, UTC
    nlohmann::ordered_json document;
};

/// As the column has it; text that is not valid UTF-8 is mended.
QString documentText(const nlohmann::ordered_json& document);

/// Of a table with the columns row_id, `name`, changed and document: the one that changed last first. Those
/// that are damaged are left out, and stay.
Result<std::vector<KeptDocument>> readDocuments(const Database& database, const QString& table,
                                                const QString& name, const QString& where = {},
                                                const QVariantList& values = {});

} // namespace hr::library

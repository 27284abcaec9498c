// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/figures_csv.h"

#include "bench/figure_text.h"
#include "bench/suite.h"
#include "exchange/csv.h"

namespace hr::exchange {

namespace {

/// Numbers and words as they are; what has parts as JSON.
std::string cell(const bench::Reading* reading, const std::string& key)
{
    const auto* value = reading ? bench::figureIn(*reading, key) : nullptr;
    if (!value || value->is_null())
        return {};
    if (value->is_number() || value->is_boolean())
        return value->dump();
    return csvField(value->is_string() ? value->get<std::string>() : value->dump());
}

} // namespace

std::string figuresCsv(const std::vector<std::pair<std::string, std::string>>& rows,
                       const std::vector<FiguresColumn>& columns)
{
    std::string csv = "test,figure,unit";
    for (const FiguresColumn& column : columns)
        csv += ',' + csvField(column.title);
    csv += "\r\n";
    for (const auto& [test, key] : rows) {
        const bench::FigureInfo* info = bench::figureInfo(test, key);
        csv += test + ',' + key + ',' + csvField(info ? info->unit : std::string());
        for (const FiguresColumn& column : columns)
            csv += ',' + cell(column.reading(test), key);
        csv += "\r\n";
    }
    return csv;
}

} // namespace hr::exchange

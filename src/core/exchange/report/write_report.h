// SPDX-License-Identifier: GPL-3.0-or-later
//
// A report as a file for others: HTML, Markdown with its pictures beside, CSV, JSON. PDF is print/pdf.h.
#pragma once

#include "signal/result.h"

#include <filesystem>
#include <nlohmann/json.hpp>
#include <optional>

namespace hr::exchange {

enum class ReportFormat { Html, Markdown, Csv, Json, Pdf };
/// "html", "markdown", "csv", "json" or "pdf"; empty for another word.
std::optional<ReportFormat> reportFormat(const std::string& word);

/// As Markdown (CommonMark with tables); pictures are named `stem`-1.svg, `stem`-2.svg and so on.
std::string reportAsMarkdown(const nlohmann::ordered_json& report, const std::string& stem);
/// RFC 4180 (2005): a row for each figure of each table, with its unit, its definition and a column for each
/// subject.
std::string reportAsCsv(const nlohmann::ordered_json& report);

/// Not of PDF. A failure leaves the file that was there.
Result<void> writeReport(const nlohmann::ordered_json& report, ReportFormat format,
                         const std::filesystem::path& file);

} // namespace hr::exchange

// SPDX-License-Identifier: GPL-3.0-or-later
//
// A blind trial for others: whole as JSON, or its answers as CSV (RFC 4180, 2005) for a table.
#pragma once

#include "signal/result.h"

#include <filesystem>
#include <nlohmann/json.hpp>

namespace hr::exchange {

/// By the file's extension: ".csv" the answers, one a row; anything else the document (docs/file-formats.md). A
/// failure leaves the file that was there.
Result<void> writeTrial(const std::filesystem::path& file, const nlohmann::ordered_json& document);

} // namespace hr::exchange

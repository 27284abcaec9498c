// SPDX-License-Identifier: GPL-3.0-or-later
//
// Documents on disk: JSON, read within a bound, and text; written beside and renamed.
#pragma once

#include "signal/result.h"

#include <filesystem>
#include <nlohmann/json.hpp>
#include <string>

namespace hr::exchange {

/// An Error that names the file where it cannot be read, is over 256 MiB or is not JSON.
Result<nlohmann::ordered_json> readDocument(const std::filesystem::path& file);

/// A failure, as on a full disk, leaves the file that was there. What is no file (a pipe, a device) is written
/// into.
Result<void> writeText(const std::filesystem::path& file, const std::string& text);
/// The same; text that is not valid UTF-8 is mended.
Result<void> writeDocument(const std::filesystem::path& file, const nlohmann::ordered_json& document);

} // namespace hr::exchange

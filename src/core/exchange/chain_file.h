// SPDX-License-Identifier: GPL-3.0-or-later
//
// A chain as a JSON file; docs/chain.schema.json is its schema.
#pragma once

#include "chain/company.h"

#include <filesystem>

namespace hr::exchange {

/// Errors name the file, and the stage where it is one's.
Result<chain::Chain> readChain(const std::filesystem::path& file);
/// Parts in step; files of parts are relative to where it lies.
Result<chain::Company> readCompany(const std::filesystem::path& file);
Result<void> writeCompany(const std::filesystem::path& file, const chain::Company& company);
/// Whether a file can be read and says that it holds parts in step.
bool isCompanyFile(const std::filesystem::path& file);
/// Where the file of a part lies; an Error names both where it is not there.
Result<std::filesystem::path> partFile(const std::filesystem::path& company_file, const std::string& file);

Result<void> writeChain(const std::filesystem::path& file, const chain::Chain& chain);

} // namespace hr::exchange

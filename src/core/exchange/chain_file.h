// SPDX-License-Identifier: GPL-3.0-or-later
//
// A chain as a JSON file; docs/chain.schema.json is its schema.
#pragma once

#include "chain/chain.h"

#include <filesystem>

namespace hr::exchange {

/// Errors name the file, and the stage where it is one's.
Result<chain::Chain> readChain(const std::filesystem::path& file);
Result<void> writeChain(const std::filesystem::path& file, const chain::Chain& chain);

} // namespace hr::exchange

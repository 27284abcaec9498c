// SPDX-License-Identifier: GPL-3.0-or-later
//
// Writes the demo data: sources/NAME.wav with sources/sources.json beside them, and collections/.
#pragma once

#include "signal/result.h"

#include <filesystem>

namespace demo {

/// Files that are there already are left as they are.
hr::Result<void> writeDemoData(const std::filesystem::path& directory);

} // namespace demo

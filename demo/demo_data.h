// SPDX-License-Identifier: GPL-3.0-or-later
//
// Writes the demo data: sources/NAME.wav with sources/sources.json beside them, collections/ and parts/.
#pragma once

#include "signal/result.h"

#include <filesystem>
#include <functional>
#include <stop_token>

namespace demo {

/// Files that are there already are left as they are. `progress` is told the share that is done, on any thread,
/// whenever a sound is there; once `cancel` asks to stop, the rest is left for another time.
hr::Result<void> writeDemoData(const std::filesystem::path& directory,
                               const std::function<void(double)>& progress = {},
                               const std::stop_token& cancel = {});

} // namespace demo

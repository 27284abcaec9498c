// SPDX-License-Identifier: GPL-3.0-or-later
//
// An LV2 plug-in as a Processor. Only the worker makes one: its library is third-party code.
#pragma once

#include "hosting/fault.h"
#include "processors/processor.h"

#include <filesystem>

namespace hr::hosting::inside {

/// Opens the library, so that a missing file or entry point is told apart from a failing start. It starts with
/// the inner state of its `preset`; where that is empty or unknown, with its default state.
FaultOr<std::unique_ptr<processors::Processor>> loadLv2(const std::filesystem::path& bundle,
                                                        const std::string& uri, const std::string& preset = {});

} // namespace hr::hosting::inside

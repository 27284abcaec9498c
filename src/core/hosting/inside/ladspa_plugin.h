// SPDX-License-Identifier: GPL-3.0-or-later
//
// LADSPA through its header, inside the worker. A library describes itself only by being loaded.
#pragma once

#include "hosting/worker.h"

namespace hr::hosting::inside {

/// Every effect of the library `file`; generators (no audio in) are left out.
FaultOr<BundleContents> describeLadspa(const std::filesystem::path& file);

/// The one with this label.
FaultOr<std::unique_ptr<processors::Processor>> loadLadspa(const std::filesystem::path& file,
                                                           const std::string& label);

} // namespace hr::hosting::inside

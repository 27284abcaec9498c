// SPDX-License-Identifier: GPL-3.0-or-later
//
// Opening a third-party shared object, with a reason where that fails.
#pragma once

#include "hosting/fault.h"

#include <filesystem>
#include <initializer_list>

namespace hr::hosting::inside {

/// The handle of dlopen(); it stays open for good, since some do not survive being closed. One
/// that is not there is Cause::MissingFile, one with none of `entry_points`, or that needs a symbol which
/// nothing offers, Cause::MissingSymbol.
FaultOr<void*> openSharedObject(const std::filesystem::path& path,
                                std::initializer_list<const char*> entry_points);

} // namespace hr::hosting::inside

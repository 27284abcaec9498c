// SPDX-License-Identifier: GPL-3.0-or-later
//
// Reads files that somebody else wrote: only regular ones, and only up to a bound. A pipe or a device under the
// name of a document would otherwise hold up the reader for ever, or fill the memory.
#pragma once

#include "signal/result.h"

#include <cstdint>
#include <filesystem>

namespace hr::signal {

/// Whether `file`, or what a link of that name leads to, is a regular file.
bool isRegularFile(const std::filesystem::path& file);

/// All of it. An Error that names the file where it is not there, not a regular file, longer than `most_bytes`,
/// or cannot be read.
Result<std::string> readRegularFile(const std::filesystem::path& file, std::uintmax_t most_bytes);

} // namespace hr::signal

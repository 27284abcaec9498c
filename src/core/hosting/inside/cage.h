// SPDX-License-Identifier: GPL-3.0-or-later
//
// What third-party code may do in a worker: read files, write to one folder, and compute. Everything else is
// refused with EPERM or EACCES, and what was asked for is noted in the shared block. The kernel enforces it:
// seccomp (seccomp(2)) by system call, Landlock (landlock(7)) by file, port and process, where the kernel has
// it.
//
// A cage is for life: what a process may do can only shrink.
#pragma once

#include "hosting/location.h"
#include "hosting/wire.h"

namespace hr::hosting::inside {

/// Before any third-party code is loaded. `own_folder` may be written to, and what the permissions add.
void enterCage(SharedBlock& block, const std::filesystem::path& own_folder, const Permissions& permissions);

} // namespace hr::hosting::inside

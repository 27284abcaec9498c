// SPDX-License-Identifier: GPL-3.0-or-later
//
// What third-party code may do in a worker: read the system's libraries, its own files and what the user
// allows, write to one folder, and compute. Everything else is refused with EPERM or EACCES, and what was asked
// for is noted in the shared block. The kernel enforces it: a list of the system calls that are allowed
// (seccomp(2)), and Landlock (landlock(7)) for files. Older versions of Landlock cover less; what they leave
// open, the list of calls closes.
//
// A cage is for life: what a process may do can only shrink.
#pragma once

#include "hosting/location.h"
#include "hosting/wire.h"
#include "signal/result.h"

namespace hr::hosting::inside {

/// What may be read beside the system's libraries and fonts, and written.
struct CageDoors {
    std::filesystem::path own_folder;            ///< read and written; empty: none
    std::vector<std::filesystem::path> readable; ///< folders and files
    Permissions permissions;                     ///< of the user
};

/// Before any third-party code is loaded, and before any other thread is started. An Error where it cannot be
/// closed and the user has not waived it: then nothing may be loaded.
Result<void> enterCage(SharedBlock& block, const CageDoors& doors);

} // namespace hr::hosting::inside

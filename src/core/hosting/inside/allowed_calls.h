// SPDX-License-Identifier: GPL-3.0-or-later
//
// The cage's part that is about system calls: a list of those that are allowed (seccomp(2)). Whatever is not on
// it, also what kernels to come may add, is refused.
#pragma once

#include "hosting/location.h"
#include "hosting/protection.h"
#include "hosting/wire.h"
#include "signal/result.h"

namespace hr::hosting::inside {

/// From now on, for all threads. What is refused is noted in `block`. Where there is no Landlock, files are
/// closed by the list, too: nothing is opened for writing.
Result<void> allowListedCalls(SharedBlock& block, const Permissions& permissions, const Protection& protection);

} // namespace hr::hosting::inside

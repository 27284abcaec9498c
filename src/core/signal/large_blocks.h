// SPDX-License-Identifier: GPL-3.0-or-later
//
// How memory is given back. A long record takes blocks of tens of megabytes; left to itself the C library
// learns to keep them, in pieces that the next ones do not fit into.
#pragma once

#include <malloc.h>

namespace hr::signal {

/// From now on what is larger than 8 MiB goes back to the system when it is done with (glibc's mallopt(3)).
/// Once, when a program begins.
inline void giveLargeBlocksBack()
{
    mallopt(M_MMAP_THRESHOLD, 8 << 20);
}

} // namespace hr::signal

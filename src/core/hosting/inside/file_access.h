// SPDX-License-Identifier: GPL-3.0-or-later
//
// The cage's part that is about files: Landlock.
#pragma once

#include "hosting/inside/cage.h"

namespace hr::hosting::inside {

/// From now on this process, and whatever it starts, reads and changes nothing beyond these doors. `version` is
/// that of Landlock's interface, at least 1. Rights that a newer one adds are used where it has them.
Result<void> restrictFiles(const CageDoors& doors, int version);

} // namespace hr::hosting::inside

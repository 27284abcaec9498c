// SPDX-License-Identifier: GPL-3.0-or-later
//
// A chain with a worker for every stage: slower than one worker for all, but a fault names its stage and
// the others' state is not lost with it.
#pragma once

#include "hosting/instance.h"

namespace hr::hosting {

/// `location` must be a chain. Its faults begin with "stage N, ID: ".
FaultOr<std::unique_ptr<Instance>> openIsolated(const Location& location, TimeLimits limits = {});

} // namespace hr::hosting

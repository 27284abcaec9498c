// SPDX-License-Identifier: GPL-3.0-or-later
//
// From a location to the processor that is to run: one as it is, one made stereo, or a chain of several.
// Where each comes from is the caller's: the worker loads strangers', others make references.
#pragma once

#include "hosting/fault.h"
#include "hosting/location.h"
#include "processors/processor.h"

#include <functional>

namespace hr::hosting {

/// One processor, not prepared yet. The location has no stages.
using LoadOne = std::function<FaultOr<std::unique_ptr<processors::Processor>>(const Location&)>;

/// Faults of a chain's stage name it in their detail: "stage 2, lv2:urn:…: …".
FaultOr<std::unique_ptr<processors::Processor>> assemble(const Location& location, Channels channels,
                                                         const LoadOne& load);

} // namespace hr::hosting

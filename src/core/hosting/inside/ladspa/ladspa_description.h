// SPDX-License-Identifier: GPL-3.0-or-later
//
// What a LADSPA descriptor says, in our words: ranges, defaults, toggles, logarithmic and integer
// controls by its hints (ladspa.h 1.1).
#pragma once

#include "hosting/fault.h"
#include "processors/description.h"

#include <filesystem>
#include <ladspa.h>

namespace hr::hosting::inside {

/// A Fault where names are missing, or a range ends before it begins.
FaultOr<processors::ProcessorInfo> describe(const LADSPA_Descriptor& plugin, const std::filesystem::path& file);

/// Whether `port` is an audio input whose name says side-chain or key, beside others that are not.
bool isKeyInput(const LADSPA_Descriptor& plugin, unsigned long port);

/// Whether control output `port` tells the latency: by convention it is called "latency".
bool tellsLatency(const LADSPA_Descriptor& plugin, unsigned long port);

} // namespace hr::hosting::inside

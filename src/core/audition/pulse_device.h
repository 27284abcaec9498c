// SPDX-License-Identifier: GPL-3.0-or-later
//
// PulseAudio, and PipeWire where it stands in for it.
#pragma once

#include "audition/output_device.h"

namespace hr::audition {

/// Its sinks, named as the server describes them; empty where none runs.
std::vector<DeviceChoice> pulseDevices();

/// `name`: one of those, empty for the server's default.
Result<std::unique_ptr<OutputDevice>> openPulse(const std::string& name);

} // namespace hr::audition

// SPDX-License-Identifier: GPL-3.0-or-later
//
// ALSA without a server.
#pragma once

#include "audition/output_device.h"

namespace hr::audition {

/// The default and every card's outputs, those through which ALSA converts sample formats ("plughw:").
std::vector<DeviceChoice> alsaDevices();

/// `name`: a PCM name of ALSA, empty for "default".
Result<std::unique_ptr<OutputDevice>> openAlsa(const std::string& name);

} // namespace hr::audition

// SPDX-License-Identifier: GPL-3.0-or-later
//
// JACK, spoken to directly: when the server dies, a client must be closed by nobody but who opened it, after
// JACK's own thread has ended. RtAudio closes it from a thread of its own, which races with that one.
#pragma once

#include "audition/output_device.h"

namespace hr::audition {

/// Clients with two physical inputs and more; empty where no server runs.
std::vector<DeviceChoice> jackDevices();

/// `name`: one of those, empty for the first.
Result<std::unique_ptr<OutputDevice>> openJack(const std::string& name);

} // namespace hr::audition

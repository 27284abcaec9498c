// SPDX-License-Identifier: GPL-3.0-or-later
//
// The worker's side of the conversation in wire.h. The main thread waits for requests and for what the
// processor has to say by itself; the sound thread waits for requests to run. The other side never asks both
// for the same processor at once, but for its state, which may be asked for while it runs.
#pragma once

#include "hosting/inside/format.h"

#include <chrono>

namespace hr::hosting::inside {

inline constexpr std::chrono::milliseconds reserve_limit{30000};

/// Until the other side closes, or until nothing has been asked of it for `idle_limit` while nothing is loaded:
/// a worker in reserve has an end, one with a plug-in waits for as long as its host lives. Returns the exit
/// code.
int serve(HostedFormats formats, std::chrono::milliseconds idle_limit = reserve_limit);

} // namespace hr::hosting::inside

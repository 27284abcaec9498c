// SPDX-License-Identifier: GPL-3.0-or-later
//
// The worker's side of the conversation in wire.h: reads requests, drives one processor, answers.
#pragma once

namespace hr::hosting::inside {

/// Until the other side closes. Returns the exit code.
int serve();

} // namespace hr::hosting::inside

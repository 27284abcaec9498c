// SPDX-License-Identifier: GPL-3.0-or-later
//
// The worker's side of the conversation in wire.h: reads requests, drives one processor, answers.
#pragma once

#include <chrono>

namespace hr::hosting::inside {

inline constexpr std::chrono::milliseconds reserve_limit{30000};

/// Until the other side closes, or until nothing has been asked of it for `idle_limit` while nothing is loaded:
/// a worker in reserve has an end, one with a plug-in waits for as long as its host lives. Returns the exit
/// code.
int serve(std::chrono::milliseconds idle_limit = reserve_limit);

} // namespace hr::hosting::inside

// SPDX-License-Identifier: GPL-3.0-or-later
//
// How a thread shares the processor's cores with others. The workers it starts inherit it.
#pragma once

namespace hr::hosting {

enum class Pace {
    Ahead,      ///< what is being heard: before others, where the system allows it
    Background, ///< what nobody waits for: after all others. There is no way back for a thread.
};

/// Of the calling thread. Does nothing where it is not allowed.
void keepPace(Pace pace);

/// For a thread that an audio device waits for: real-time scheduling (SCHED_RR, sched(7)) unless it has it
/// already. Says whether it has it now: without the right to it, which the group "audio" usually has, nothing
/// changes.
bool keepDeadlines();

/// The system's figure for the calling thread, -20 (first) to 19 (last).
int niceness();

} // namespace hr::hosting

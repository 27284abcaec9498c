// SPDX-License-Identifier: GPL-3.0-or-later
//
// How a thread shares the processor's cores with others. The workers it starts inherit it.
#pragma once

#include <sys/types.h>

namespace hr::hosting {

enum class Priority {
    Playback,   ///< what is being heard: before others, where the system allows it
    Background, ///< what nobody waits for: after all others. There is no way back for a thread.
};

/// Of the calling thread. Does nothing where it is not allowed.
void setPriority(Priority priority);

/// For a thread that an audio device waits for: real-time scheduling (SCHED_RR, sched(7)) unless it has it
/// already. Says whether it has it now: without the right to it, which the group "audio" usually has, nothing
/// changes.
bool requestRealtime();

/// The system's figure for the calling thread, or the main thread of a process: -20 (first) to 19 (last).
int niceness(pid_t process = 0);

/// Whether this process may give a thread this figure where it has a higher one.
bool mayRaiseTo(int niceness);

/// Gives all threads of another process this figure; false where that is not allowed for one of them.
bool setNiceness(pid_t process, int niceness);

} // namespace hr::hosting

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

/// The system's figure for the calling thread, -20 (first) to 19 (last).
int niceness();

} // namespace hr::hosting

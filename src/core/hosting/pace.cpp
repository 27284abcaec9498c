// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/pace.h"

#include <sys/resource.h>

namespace hr::hosting {

void keepPace(Pace pace)
{
    // Linux counts it a thread, and 0 is the calling one.
    (void)setpriority(PRIO_PROCESS, 0, pace == Pace::Ahead ? -10 : 10);
}

int niceness()
{
    return getpriority(PRIO_PROCESS, 0);
}

} // namespace hr::hosting

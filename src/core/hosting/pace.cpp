// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/pace.h"

#include <pthread.h>
#include <sys/resource.h>

namespace hr::hosting {

namespace {

/// What JACK gives its clients by default; it takes 10 for itself.
constexpr int deadline_priority = 5;

} // namespace

void keepPace(Pace pace)
{
    // Linux counts it a thread, and 0 is the calling one.
    (void)setpriority(PRIO_PROCESS, 0, pace == Pace::Ahead ? -10 : 10);
}

bool keepDeadlines()
{
    const pthread_t thread = pthread_self();
    int policy = SCHED_OTHER;
    sched_param parameters{};
    if (pthread_getschedparam(thread, &policy, &parameters) != 0)
        return false;
    if (policy == SCHED_FIFO || policy == SCHED_RR)
        return true;
    parameters.sched_priority = deadline_priority;
    return pthread_setschedparam(thread, SCHED_RR, &parameters) == 0;
}

int niceness()
{
    return getpriority(PRIO_PROCESS, 0);
}

} // namespace hr::hosting

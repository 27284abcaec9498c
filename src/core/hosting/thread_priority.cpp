// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/thread_priority.h"

#include <algorithm>
#include <cstdlib>
#include <filesystem>
#include <pthread.h>
#include <string>
#include <sys/resource.h>
#include <unistd.h>

namespace hr::hosting {

namespace {

/// What JACK gives its clients by default; it takes 10 for itself.
constexpr int realtime_priority = 5;

} // namespace

void setPriority(Priority priority)
{
    // Linux counts it a thread, and 0 is the calling one.
    (void)setpriority(PRIO_PROCESS, 0, priority == Priority::Playback ? -10 : 10);
}

bool requestRealtime()
{
    const pthread_t thread = pthread_self();
    int policy = SCHED_OTHER;
    sched_param parameters{};
    if (pthread_getschedparam(thread, &policy, &parameters) != 0)
        return false;
    if (policy == SCHED_FIFO || policy == SCHED_RR)
        return true;
    parameters.sched_priority = realtime_priority;
    return pthread_setschedparam(thread, SCHED_RR, &parameters) == 0;
}

int niceness(pid_t process)
{
    return getpriority(PRIO_PROCESS, static_cast<id_t>(process));
}

bool mayRaiseTo(int niceness)
{
    rlimit limit{};
    // The limit counts from 1 (19) to 40 (-20): getrlimit(2).
    return geteuid() == 0 || (getrlimit(RLIMIT_NICE, &limit) == 0 &&
                              20 - niceness <= static_cast<int>(std::min<rlim_t>(limit.rlim_cur, 40)));
}

bool setNiceness(pid_t process, int niceness)
{
    bool all = true;
    std::error_code failed;
    std::filesystem::directory_iterator tasks("/proc/" + std::to_string(process) + "/task", failed);
    for (; !failed && tasks != std::filesystem::directory_iterator(); tasks.increment(failed)) {
        const auto thread = static_cast<id_t>(std::atoi(tasks->path().filename().c_str()));
        all = setpriority(PRIO_PROCESS, thread, niceness) == 0 && all;
    }
    return all && !failed;
}

} // namespace hr::hosting

// SPDX-License-Identifier: GPL-3.0-or-later
//
// The one thread of this program that starts workers and looks after them. It starts them because the system
// ends a worker together with the thread that started it (PR_SET_PDEATHSIG, prctl(2)), and this one lives as
// long as the program. It looks after what no limit of the system bounds: the threads of a worker, and how much
// lies in its folder. A worker beyond that is ended, and why is kept for whoever waits for it.
//
// Threads: all functions from any; start() waits for the supervisor's thread.
#pragma once

#include "hosting/worker_folder.h"

#include <atomic>
#include <chrono>
#include <condition_variable>
#include <deque>
#include <functional>
#include <memory>
#include <mutex>
#include <sys/types.h>
#include <thread>
#include <vector>

namespace hr::hosting {

/// Threads of one worker; plug-ins that compute in parallel start one a core.
inline constexpr std::size_t most_worker_threads = 300;
/// What may lie in its folder at a time.
inline constexpr std::uintmax_t most_folder_bytes = std::uintmax_t{256} << 20;
inline constexpr std::size_t most_folder_files = 4096;

enum class Excess { None, Threads, Folder };

class WorkerSupervisor {
public:
    static constexpr std::chrono::milliseconds look_every{200};

    /// That of this process: one that was forked has its own.
    static WorkerSupervisor& shared();

    /// Runs `spawn` on the supervisor's thread; what it returns is watched from then on, unless it is not
    /// positive. `excess` is set before the process is ended for one.
    pid_t start(const std::function<pid_t()>& spawn, std::filesystem::path folder,
                std::shared_ptr<std::atomic<Excess>> excess);
    /// Before it is waited for: its number may be another process's afterwards.
    void forget(pid_t pid);

private:
    struct Watched {
        pid_t pid = -1;
        std::filesystem::path folder;
        std::shared_ptr<std::atomic<Excess>> excess;
    };

    WorkerSupervisor();
    void run();
    static Excess excessOf(const Watched& worker);

    std::mutex m_mutex;
    std::condition_variable m_changed;
    std::deque<std::function<void()>> m_orders; // guarded by m_mutex
    std::vector<Watched> m_watched;             // guarded by m_mutex
    std::thread m_thread;                       // never joined: it is as old as the process becomes
};

} // namespace hr::hosting

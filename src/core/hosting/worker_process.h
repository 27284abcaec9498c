// SPDX-License-Identifier: GPL-3.0-or-later
//
// One hrack-worker process: spawned, watched, ended. Knows nothing of what is said to it.
//
// The worker lives in a process group of its own, which is killed as a whole. When this process dies, however
// it dies, the system ends the worker, and it would end by itself because its control socket closes. What it
// prints goes into an anonymous file of bounded size, never to our own output. The shared memory is sealed
// against shrinking, and no other file of ours is open in it. It has a folder of its own.
#pragma once

#include "hosting/fault.h"
#include "hosting/owned_fd.h"
#include "hosting/wire.h"
#include "hosting/worker_supervisor.h"

#include <map>
#include <memory>
#include <sys/types.h>

namespace hr::hosting {

class WorkerProcess {
public:
    /// Finds the program beside this one (or where HONEST_RACK_WORKER says) and starts it.
    static Result<std::unique_ptr<WorkerProcess>> spawn();
    ~WorkerProcess(); ///< kills what is left of it and waits for it

    WorkerProcess(const WorkerProcess&) = delete;
    WorkerProcess& operator=(const WorkerProcess&) = delete;

    int control() const { return m_control.get(); }
    int sound() const { return m_sound.get(); }
    SharedBlock& block() { return *m_block; }
    pid_t pid() const { return m_pid; }

    /// Whether it has not ended: killed, crashed, or by itself.
    bool isAlive() const;

    /// Processor time it has used so far, over all its threads.
    std::chrono::nanoseconds processorTime() const;
    /// What its threads have waited for since the last call without its being their doing.
    struct Waiting {
        std::chrono::nanoseconds time{}; ///< for a processor, as far as those waits have ended, or for a disk
        bool now = false;                ///< one is ready to run, or waits for a disk
    };
    Waiting takeWaiting();

    /// Why it is ended from here.
    enum class Ending {
        ByItself,  ///< it is gone, or about to be: it says why
        Hang,      ///< it does not respond
        Cancelled, ///< nobody wants its answer
    };
    /// Kills the whole group and waits: why the process ended, in the words of a Fault at `phase`.
    Fault end(Phase phase, Ending ending);

private:
    WorkerProcess() = default;
    std::string printedTail() const;

    pid_t m_pid = -1;
    OwnedFd m_control, m_sound, m_prints;
    std::shared_ptr<std::atomic<Excess>> m_excess = std::make_shared<std::atomic<Excess>>(Excess::None);
    std::map<int, std::chrono::nanoseconds> m_waited; // by thread, so far
    std::chrono::steady_clock::time_point m_looked = std::chrono::steady_clock::now();
    SharedBlock* m_block = nullptr;
    WorkerFolder m_folder;
};

} // namespace hr::hosting

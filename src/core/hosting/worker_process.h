// SPDX-License-Identifier: GPL-3.0-or-later
//
// One hrack-worker process: spawned, watched, ended. Knows nothing of what is said to it.
//
// The worker lives in a process group of its own, which is killed as a whole; it ends by itself when
// this process dies, however it dies, because its control socket closes. What it prints goes into an
// anonymous file of bounded size, never to our own output. The shared memory is sealed against shrinking, and
// no other file of ours is open in it. It has a folder of its own, emptied when it ends.
#pragma once

#include "hosting/fault.h"
#include "hosting/wire.h"

#include <filesystem>
#include <memory>
#include <sys/types.h>

namespace hr::hosting {

/// A file number that closes itself.
class OwnedFd {
public:
    explicit OwnedFd(int fd = -1) : m_fd(fd) {}
    OwnedFd(OwnedFd&& other) noexcept : m_fd(std::exchange(other.m_fd, -1)) {}
    OwnedFd& operator=(OwnedFd&& other) noexcept
    {
        std::swap(m_fd, other.m_fd);
        return *this;
    }
    ~OwnedFd();
    int get() const { return m_fd; }
    void reset() { *this = OwnedFd(); }

private:
    int m_fd;
};

class WorkerProcess {
public:
    /// Finds the program beside this one (or where HONEST_RACK_WORKER says) and starts it.
    static Result<std::unique_ptr<WorkerProcess>> spawn();
    ~WorkerProcess(); ///< kills what is left of it and waits for it

    WorkerProcess(const WorkerProcess&) = delete;
    WorkerProcess& operator=(const WorkerProcess&) = delete;

    int control() const { return m_control.get(); }
    SharedBlock& block() { return *m_block; }
    pid_t pid() const { return m_pid; }

    /// Processor time it has used so far, over all its threads.
    std::chrono::nanoseconds processorTime() const;
    /// Whether one of its threads runs or waits for a processor: a worker that has not got on then is not
    /// hanging yet, it has not had its turn.
    bool wantsProcessor() const;

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
    OwnedFd m_control, m_prints;
    SharedBlock* m_block = nullptr;
    std::filesystem::path m_folder; // its own; empty where none could be made
};

} // namespace hr::hosting

// SPDX-License-Identifier: GPL-3.0-or-later
//
// Workers in which all went well, kept for a while for the next processor of the same bundles: what third-party
// code left behind in a process can then only hurt its own. A worker that is not asked for ends by
// itself after half a minute.
#pragma once

#include "hosting/worker.h"

#include <mutex>

namespace hr::hosting {

class WorkerPool {
public:
    static constexpr std::size_t most_idle = 8;

    /// The one of this process.
    static WorkerPool& shared();

    /// One that has run the bundles of `location` and nothing else, at the pace of the calling thread (pace.h),
    /// or a new one. Any thread.
    Result<std::unique_ptr<Worker>> take(const Location& location, TimeLimits limits);

    /// Its processor is stopped without waiting for it; a worker that fails in this is not given out again.
    void giveBack(std::unique_ptr<Worker> worker, const Location& location);

    /// Ends all that are idle.
    void clear();

private:
    /// What may share a worker, one after the other.
    struct Company {
        std::vector<std::filesystem::path> bundles;
        Permissions permissions; // a cage is for life
        int niceness = 0;
        bool operator==(const Company&) const = default;
    };
    static Company companyOf(const Location& location);
    struct Idle {
        Company company;
        std::unique_ptr<Worker> worker;
    };
    std::mutex m_mutex;
    std::vector<Idle> m_idle; // guarded by m_mutex, oldest first
};

} // namespace hr::hosting

// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/worker_pool.h"

#include "hosting/pace.h"

#include <algorithm>

namespace hr::hosting {

namespace {

/// As long as a new worker would take to start.
constexpr std::chrono::milliseconds patience{5};

} // namespace

WorkerPool::Company WorkerPool::companyOf(const Location& location)
{
    std::vector<std::filesystem::path> bundles{location.bundle};
    for (const StagePlace& stage : location.stages)
        bundles.push_back(stage.bundle);
    std::ranges::sort(bundles);
    bundles.erase(std::unique(bundles.begin(), bundles.end()), bundles.end());
    return {std::move(bundles), permissionsOf(location), niceness()};
}

WorkerPool& WorkerPool::shared()
{
    static WorkerPool pool;
    return pool;
}

Result<std::unique_ptr<Worker>> WorkerPool::take(const Location& location, TimeLimits limits)
{
    const Company company = companyOf(location);
    std::vector<Idle> ended; // destroyed after the lock, since that waits for processes
    std::unique_ptr<Worker> found;
    {
        const std::lock_guard lock(m_mutex);
        for (auto idle = m_idle.begin(); idle != m_idle.end() && !found;) {
            const auto state =
                idle->company == company ? idle->worker->stopping(patience) : Worker::Stopping::NotYet;
            if (state == Worker::Stopping::NotYet) {
                ++idle;
                continue;
            }
            if (state == Worker::Stopping::Done)
                found = std::move(idle->worker);
            else
                ended.push_back(std::move(*idle));
            idle = m_idle.erase(idle);
        }
    }
    if (!found)
        return Worker::spawn(limits);
    found->setLimits(limits);
    found->setCancel({});
    return found;
}

void WorkerPool::giveBack(std::unique_ptr<Worker> worker, const Location& location)
{
    if (!worker->beginStop())
        return;
    Idle oldest;
    const std::lock_guard lock(m_mutex);
    if (m_idle.size() == most_idle) {
        oldest = std::move(m_idle.front());
        m_idle.erase(m_idle.begin());
    }
    m_idle.push_back({companyOf(location), std::move(worker)});
}

void WorkerPool::clear()
{
    std::vector<Idle> ended;
    const std::lock_guard lock(m_mutex);
    ended.swap(m_idle);
}

} // namespace hr::hosting

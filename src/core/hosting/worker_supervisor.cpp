// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/worker_supervisor.h"

#include <algorithm>
#include <csignal>
#include <future>
#include <sys/stat.h>
#include <unistd.h>

namespace hr::hosting {

namespace {

/// A folder of tasks has two links and one for each thread (proc(5)).
std::size_t threadsOf(pid_t pid)
{
    struct stat facts {};
    const std::string tasks = "/proc/" + std::to_string(pid) + "/task";
    return stat(tasks.c_str(), &facts) == 0 && facts.st_nlink > 2 ? facts.st_nlink - 2 : 0;
}

} // namespace

WorkerSupervisor& WorkerSupervisor::shared()
{
    // Leaked on purpose: its thread may still run while the program ends, and a fork has none of it.
    static std::mutex mutex;
    static WorkerSupervisor* supervisor = nullptr;
    static pid_t owner = 0;
    const std::lock_guard lock(mutex);
    if (!supervisor || owner != getpid()) {
        supervisor = new WorkerSupervisor; // NOLINT(cppcoreguidelines-owning-memory)
        owner = getpid();
    }
    return *supervisor;
}

WorkerSupervisor::WorkerSupervisor() : m_thread([this] { run(); })
{
    m_thread.detach();
}

pid_t WorkerSupervisor::start(const std::function<pid_t()>& spawn, std::filesystem::path folder,
                              std::shared_ptr<std::atomic<Excess>> excess)
{
    std::promise<pid_t> started;
    auto pid = started.get_future();
    {
        const std::lock_guard lock(m_mutex);
        m_orders.emplace_back([&] {
            const pid_t made = spawn();
            if (made > 0) {
                const std::lock_guard again(m_mutex);
                m_watched.push_back({made, std::move(folder), std::move(excess)});
            }
            started.set_value(made);
        });
        m_changed.notify_one();
    }
    return pid.get();
}

void WorkerSupervisor::forget(pid_t pid)
{
    const std::lock_guard lock(m_mutex);
    std::erase_if(m_watched, [pid](const Watched& worker) { return worker.pid == pid; });
}

Excess WorkerSupervisor::excessOf(const Watched& worker)
{
    if (threadsOf(worker.pid) > most_worker_threads)
        return Excess::Threads;
    return exceeds(worker.folder, most_folder_bytes, most_folder_files) ? Excess::Folder : Excess::None;
}

void WorkerSupervisor::run()
{
    std::unique_lock lock(m_mutex);
    for (;;) {
        const auto ordered = [this] { return !m_orders.empty(); };
        if (m_watched.empty())
            m_changed.wait(lock, ordered);
        else
            m_changed.wait_for(lock, look_every, ordered);
        while (!m_orders.empty()) {
            const auto order = std::move(m_orders.front());
            m_orders.pop_front();
            lock.unlock();
            order();
            lock.lock();
        }
        const std::vector<Watched> watched = m_watched;
        lock.unlock();
        std::vector<std::pair<pid_t, Excess>> beyond;
        for (const Watched& worker : watched)
            if (const Excess excess = excessOf(worker); excess != Excess::None)
                beyond.emplace_back(worker.pid, excess);
        lock.lock();
        for (const auto& [pid, excess] : beyond) {
            const auto still = std::ranges::find(m_watched, pid, &Watched::pid);
            if (still == m_watched.end())
                continue; // it has been ended meanwhile: the number may be another's
            still->excess->store(excess, std::memory_order_release);
            kill(-pid, SIGKILL);
        }
    }
}

} // namespace hr::hosting

// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/worker_pool.h"

#include "hosting/bundles.h"
#include "hosting/thread_priority.h"

#include <algorithm>
#include <cassert>
#include <unistd.h>

namespace hr::hosting {

namespace {

/// What has to be loaded for it: what it is set to comes with its start.
Location asLoaded(Location location)
{
    location.preset.clear();
    location.state.clear();
    location.name.clear();
    if (location.isChain())
        location.id.clear(); // it stands for the states as well
    for (StagePlace& stage : location.stages) {
        stage.preset.clear();
        stage.state.clear();
    }
    return location;
}

std::vector<std::filesystem::path> bundlesOf(const Location& location)
{
    std::vector<std::filesystem::path> bundles{location.bundle};
    for (const StagePlace& stage : location.stages)
        bundles.push_back(stage.bundle);
    std::ranges::sort(bundles);
    bundles.erase(std::unique(bundles.begin(), bundles.end()), bundles.end());
    return bundles;
}

std::string signaturesOf(const Location& location)
{
    std::string all;
    for (const auto& bundle : bundlesOf(location))
        all += bundle.empty() ? "" : signatureOf(bundle);
    return all;
}

/// Whether a cage that was made for `before` lets the files of `wanted` be read, too: it is for life.
bool isReadableFrom(const Location& before, const Location& wanted)
{
    const auto open = bundlesOf(before);
    const auto folders = searchFolders();
    return std::ranges::all_of(bundlesOf(wanted), [&](const std::filesystem::path& bundle) {
        return bundle.empty() || std::ranges::find(open, bundle) != open.end() ||
               std::ranges::find(folders, bundle.parent_path()) != folders.end();
    });
}

/// Whether it can have the calling thread's priority, and whoever comes after it another one.
bool mayFollow(const Worker& worker)
{
    const int now = niceness(worker.pid());
    const int wanted = niceness();
    return now == wanted || mayRaiseTo(std::min(now, wanted));
}

void followPriority(Worker& worker)
{
    if (niceness(worker.pid()) != niceness())
        (void)worker.setNiceness(niceness());
}

/// What runs behind the application, and may not be raised, is not for those who play.
bool isForPlaying(const Worker& worker)
{
    const int usual = niceness(getpid());
    return niceness(worker.pid()) <= usual || mayRaiseTo(usual);
}

std::size_t stagesInCommon(const Location& a, const Location& b)
{
    return static_cast<std::size_t>(std::ranges::count_if(b.stages, [&](const StagePlace& stage) {
        return !isMissing(stage) && std::ranges::any_of(a.stages, [&](const StagePlace& other) {
            return isSameProcessor(stage, other);
        });
    }));
}

} // namespace

WorkerPool& WorkerPool::shared()
{
    static WorkerPool pool;
    return pool;
}

std::unique_ptr<Worker> WorkerPool::takeLoaded(const Location& wanted, Channels channels,
                                               std::optional<processors::ProcessorInfo>& info)
{
    const std::string signature = signaturesOf(wanted);
    std::unique_ptr<Worker> outdated; // destroyed after the lock, since that waits for its process
    const std::lock_guard lock(m_mutex);
    const auto found = std::ranges::find_if(m_at_rest, [&](const AtRest& one) {
        return one.info && one.location == wanted && one.channels == channels && mayFollow(*one.worker);
    });
    if (found == m_at_rest.end())
        return nullptr;
    const bool current = found->signature == signature;
    followPriority(*found->worker);
    if (current)
        info = std::move(found->info);
    auto worker = std::move(found->worker);
    m_at_rest.erase(found);
    if (!current)
        outdated = std::move(worker);
    return worker;
}

/// Those whose processes have ended while they were at rest.
std::vector<WorkerPool::AtRest> WorkerPool::takeDead()
{
    std::vector<AtRest> dead;
    const std::lock_guard lock(m_mutex);
    for (AtRest& one : m_at_rest)
        if (!one.worker->isAlive())
            dead.push_back(std::move(one));
    std::erase_if(m_at_rest, [](const AtRest& one) { return !one.worker; });
    return dead;
}

/// One that has a chain loaded with stages of this one.
std::unique_ptr<Worker> WorkerPool::takeRelated(const Location& wanted)
{
    if (!wanted.isChain())
        return nullptr;
    const std::lock_guard lock(m_mutex);
    auto best = m_at_rest.end();
    std::size_t most = 0;
    for (auto one = m_at_rest.begin(); one != m_at_rest.end(); ++one) {
        if (!one->info || !one->location.isChain() || permissionsOf(one->location) != permissionsOf(wanted) ||
            !isReadableFrom(one->location, wanted) || !mayFollow(*one->worker) ||
            one->signature != signaturesOf(one->location))
            continue;
        if (const std::size_t common = stagesInCommon(one->location, wanted); common > most) {
            most = common;
            best = one;
        }
    }
    if (best == m_at_rest.end())
        return nullptr;
    followPriority(*best->worker);
    auto worker = std::move(best->worker);
    m_at_rest.erase(best);
    return worker;
}

/// One that has run the same bundles and nothing else, and has finished unloading.
std::unique_ptr<Worker> WorkerPool::takeUnloaded(const Location& wanted)
{
    std::vector<std::unique_ptr<Worker>> ended; // destroyed after the lock
    std::unique_ptr<Worker> found;
    const std::lock_guard lock(m_mutex);
    for (auto one = m_at_rest.begin(); one != m_at_rest.end() && !found;) {
        const bool fits = !one->info && bundlesOf(one->location) == bundlesOf(wanted) &&
                          permissionsOf(one->location) == permissionsOf(wanted) &&
                          niceness(one->worker->pid()) == niceness();
        const auto state =
            fits ? one->worker->stopping(std::chrono::milliseconds(0)) : Worker::Stopping::NotYet;
        if (state == Worker::Stopping::NotYet) {
            ++one;
            continue;
        }
        (state == Worker::Stopping::Done ? found : ended.emplace_back()) = std::move(one->worker);
        one = m_at_rest.erase(one);
    }
    return found;
}

Result<WorkerPool::Taken> WorkerPool::take(const Location& location, Channels channels,
                                           const TimeLimits& limits)
{
    const Location wanted = asLoaded(location);
    (void)takeDead(); // destroyed outside of the lock
    Taken taken;
    taken.worker = takeLoaded(wanted, channels, taken.info);
    if (!taken.worker)
        taken.worker = takeRelated(wanted);
    if (!taken.worker)
        taken.worker = takeUnloaded(wanted);
    if (!taken.worker) {
        auto spawned = Worker::spawn(limits);
        if (!spawned)
            return tl::make_unexpected(spawned.error());
        taken.worker = std::move(*spawned);
    }
    taken.worker->setLimits(limits);
    taken.worker->setCancel({});
    const std::lock_guard lock(m_mutex);
    m_at_work.emplace_back(wanted, channels);
    return taken;
}

std::size_t WorkerPool::loadedOf(const Location& location, Channels channels) const
{
    return static_cast<std::size_t>(std::ranges::count_if(m_at_rest,
                                                          [&](const AtRest& one) {
                                                              return one.info && one.location == location &&
                                                                     one.channels == channels;
                                                          }) +
                                    std::ranges::count(m_at_work, std::pair(location, channels)));
}

bool WorkerPool::wantsSpare(const Location& location, Channels channels)
{
    const Location wanted = asLoaded(location);
    const std::lock_guard lock(m_mutex);
    return std::ranges::find(m_kept, wanted) != m_kept.end() && loadedOf(wanted, channels) < loaded_each;
}

void WorkerPool::forgetAtWork(const Location& location, Channels channels)
{
    const auto found = std::ranges::find(m_at_work, std::pair(location, channels));
    assert(found != m_at_work.end());
    m_at_work.erase(found);
}

/// Whether it is kept, or a chain is that has stages of it: then loading that one takes less.
bool WorkerPool::isKept(const Location& wanted) const
{
    return std::ranges::any_of(m_kept, [&](const Location& kept) {
        return kept == wanted || (wanted.isChain() && kept.isChain() && stagesInCommon(wanted, kept) > 0);
    });
}

void WorkerPool::unload(AtRest& at_rest)
{
    at_rest.info.reset();
    if (!at_rest.worker->beginStop())
        at_rest.worker.reset();
}

void WorkerPool::giveBack(std::unique_ptr<Worker> worker, const Location& location, Channels channels,
                          const processors::ProcessorInfo& info)
{
    AtRest at_rest{asLoaded(location), channels, {}, info, std::move(worker)};
    if (at_rest.worker)
        at_rest.signature = signaturesOf(at_rest.location);
    std::vector<AtRest> ended; // destroyed after the lock
    const std::lock_guard lock(m_mutex);
    forgetAtWork(at_rest.location, channels);
    if (at_rest.worker && (!isKept(at_rest.location) || !isForPlaying(*at_rest.worker) ||
                           loadedOf(at_rest.location, channels) >= loaded_each))
        unload(at_rest);
    if (at_rest.worker)
        m_at_rest.push_back(std::move(at_rest));
    auto unloaded = std::ranges::count_if(m_at_rest, [](const AtRest& one) { return !one.info; });
    for (auto one = m_at_rest.begin(); unloaded > static_cast<std::ptrdiff_t>(most_unloaded);) {
        assert(one != m_at_rest.end());
        if (one->info) {
            ++one;
            continue;
        }
        ended.push_back(std::move(*one));
        one = m_at_rest.erase(one);
        --unloaded;
    }
}

void WorkerPool::clear()
{
    std::vector<AtRest> ended;
    const std::lock_guard lock(m_mutex);
    ended.swap(m_at_rest);
}

void WorkerPool::addKept(const Location& location)
{
    const std::lock_guard lock(m_mutex);
    m_kept.push_back(asLoaded(location));
}

void WorkerPool::dropKept(const Location& location)
{
    std::vector<AtRest> ended; // destroyed after the lock
    const std::lock_guard lock(m_mutex);
    const auto found = std::ranges::find(m_kept, asLoaded(location));
    assert(found != m_kept.end());
    m_kept.erase(found);
    for (auto one = m_at_rest.begin(); one != m_at_rest.end();) {
        if (one->info && !isKept(one->location))
            unload(*one);
        if (one->worker) {
            ++one;
            continue;
        }
        ended.push_back(std::move(*one));
        one = m_at_rest.erase(one);
    }
}

KeptLoaded::KeptLoaded(const Location& location) : m_location(location)
{
    WorkerPool::shared().addKept(location);
}

KeptLoaded::~KeptLoaded()
{
    if (m_location)
        WorkerPool::shared().dropKept(*m_location);
}

} // namespace hr::hosting

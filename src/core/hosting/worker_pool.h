// SPDX-License-Identifier: GPL-3.0-or-later
//
// Workers that are at rest. What somebody keeps (KeptLoaded) stays loaded in them: the next course of a
// contender takes one and starts it, and loads nothing. All others are unloaded, and wait for the next
// processor of the same bundles: what third-party code left behind in a process can then only hurt its own. One
// that is not asked for ends by itself after half a minute.
#pragma once

#include "hosting/assemble.h"
#include "hosting/worker.h"

#include <mutex>

namespace hr::hosting {

class WorkerPool {
public:
    static constexpr std::size_t most_unloaded = 8;
    /// Of what is kept: one that plays, one for its next course, one for what is measured beside it.
    static constexpr std::size_t loaded_each = 3;

    /// The one of this process.
    static WorkerPool& shared();

    struct Taken {
        std::unique_ptr<Worker> worker;
        std::optional<processors::ProcessorInfo> info; ///< of what is loaded in it already; empty: load it
    };
    /// The best there is for this: one that has it loaded; of a chain, one that has most of its stages; one
    /// that has run the same bundles; a new one. At the priority of the calling thread. Any thread; waits for
    /// no worker.
    Result<Taken> take(const Location& location, Channels channels, const TimeLimits& limits);

    /// What has been taken and is done with; where all was well, with the worker. Any thread.
    void giveBack(std::unique_ptr<Worker> worker, const Location& location, Channels channels,
                  const processors::ProcessorInfo& info);

    /// Whether something that is kept is loaded less often than loaded_each, at work and at rest together.
    bool wantsSpare(const Location& location, Channels channels);

    /// Ends all that are at rest.
    void clear();

    /// How many processors and chains have been loaded by this process so far.
    std::size_t loads() const { return m_loads.load(std::memory_order_relaxed); }
    void countLoad() { m_loads.fetch_add(1, std::memory_order_relaxed); }

private:
    friend class KeptLoaded;

    struct AtRest {
        Location location; ///< what is, or was, loaded: without its presets, states and name
        Channels channels = Channels::Own;
        std::string signature;                         ///< of its files when they were loaded
        std::optional<processors::ProcessorInfo> info; ///< empty: it is being unloaded, or is
        std::unique_ptr<Worker> worker;
    };
    std::unique_ptr<Worker> takeLoaded(const Location& wanted, Channels channels,
                                       std::optional<processors::ProcessorInfo>& info);
    std::vector<AtRest> takeDead();
    std::unique_ptr<Worker> takeRelated(const Location& wanted);
    std::unique_ptr<Worker> takeUnloaded(const Location& wanted);
    void forgetAtWork(const Location& location, Channels channels);
    std::size_t loadedOf(const Location& location, Channels channels) const;
    bool isKept(const Location& wanted) const;
    void unload(AtRest& at_rest);
    void addKept(const Location& location);
    void dropKept(const Location& location);

    std::mutex m_mutex;
    std::vector<AtRest> m_at_rest;                        // guarded by m_mutex, oldest first
    std::vector<Location> m_kept;                         // guarded by m_mutex: once for each KeptLoaded
    std::vector<std::pair<Location, Channels>> m_at_work; // guarded by m_mutex
    std::atomic<std::size_t> m_loads{0};
};

/// As long as it lives, what is loaded of this stays loaded when it is at rest. Move-only. Any thread.
class KeptLoaded {
public:
    explicit KeptLoaded(const Location& location);
    ~KeptLoaded();
    KeptLoaded(KeptLoaded&& other) noexcept : m_location(std::exchange(other.m_location, std::nullopt)) {}
    KeptLoaded& operator=(KeptLoaded&& other) noexcept
    {
        std::swap(m_location, other.m_location);
        return *this;
    }

private:
    std::optional<Location> m_location;
};

} // namespace hr::hosting

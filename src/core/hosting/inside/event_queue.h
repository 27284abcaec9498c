// SPDX-License-Identifier: GPL-3.0-or-later
//
// What a processor says by itself, from whichever thread of its own, on its way to the main thread. Bounded: of
// more than most_events the newest are lost, which a host that asks for values afterwards does not notice.
#pragma once

#include "hosting/owned_fd.h"
#include "hosting/wire.h"
#include "processors/event_sink.h"

#include <mutex>
#include <sys/eventfd.h>
#include <vector>

namespace hr::hosting::inside {

class EventQueue : public processors::EventSink {
public:
    EventQueue() : m_fd(eventfd(0, EFD_CLOEXEC | EFD_NONBLOCK)) {}

    /// Readable where there is something to take.
    int fd() const { return m_fd.get(); }

    // Any thread; the lock is held for as long as a copy takes.
    void parameterMoved(std::size_t index, double value) override
    {
        put({Event::What::ParameterMoved, static_cast<std::uint32_t>(index), value});
    }
    void gestureBegan(std::size_t index) override
    {
        put({Event::What::GestureBegan, static_cast<std::uint32_t>(index), 0});
    }
    void gestureEnded(std::size_t index) override
    {
        put({Event::What::GestureEnded, static_cast<std::uint32_t>(index), 0});
    }
    void stateChanged() override { put({Event::What::StateChanged, 0, 0}); }
    void latencyChanged(std::size_t samples) override
    {
        put({Event::What::LatencyChanged, 0, static_cast<double>(samples)});
    }
    void wantsRestart() override { put({Event::What::WantsRestart, 0, 0}); }

    std::vector<Event> take()
    {
        std::uint64_t count = 0;
        (void)!read(m_fd.get(), &count, sizeof count);
        const std::lock_guard lock(m_mutex);
        return std::exchange(m_events, {});
    }

private:
    void put(const Event& event)
    {
        {
            const std::lock_guard lock(m_mutex);
            if (m_events.size() == most_events)
                return;
            m_events.push_back(event);
        }
        const std::uint64_t one = 1;
        (void)!write(m_fd.get(), &one, sizeof one);
    }

    OwnedFd m_fd;
    std::mutex m_mutex;
    std::vector<Event> m_events; // guarded by m_mutex
};

} // namespace hr::hosting::inside

// SPDX-License-Identifier: GPL-3.0-or-later
//
// What the machine itself does not give while something is measured that has deadlines: a control that only
// sleeps and looks when it was woken, with the same right to a core as the callback (on every core) and as the
// lanes, and without any of our work to do. What falls dry or comes late in such a moment cannot be told from
// what the host took; what does so in none of them is our own making.
#pragma once

#include <atomic>
#include <functional>
#include <thread>
#include <vector>

namespace hr::benchmarks {

/// In seconds since the watch began.
struct Moment {
    double from_s = 0;
    double to_s = 0;
};

class MachineWatch {
public:
    /// A control of the callback's kind, which is to come every millisecond, came later than this: the machine
    /// stood still for 2 ms or nearly.
    static constexpr double callback_late_s = 0.001;
    static constexpr double lane_late_s = 0.020; ///< one of the lanes' kind, which are filled 43 ms ahead

    /// `look` is called every millisecond or as soon as the machine lets us, on a thread of the callback's
    /// kind.
    explicit MachineWatch(std::function<void(double now_s)> look);

    double nowS() const;
    /// Ends the threads. What follows may be read afterwards.
    void stop();

    const std::vector<Moment>& callbackLate() const { return m_callback_late; }
    const std::vector<Moment>& laneLate() const { return m_lane_late; }
    /// Processor time of all cores that the host of a virtual machine took for others.
    double stolenS() const { return m_stolen_s; }
    /// Whether the system lets a thread keep deadlines (SCHED_RR): without it the control is an ordinary one.
    bool keepsDeadlines() const { return m_keeps_deadlines; }

private:
    void watchDeadlines(unsigned core, const std::stop_token& stop);
    void watchLanes(const std::stop_token& stop);

    const double m_began_s;
    const double m_stolen_before_s;
    std::function<void(double)> m_look;
    std::vector<std::vector<Moment>> m_late_on_core; // each written by its own thread
    std::vector<Moment> m_callback_late;
    std::vector<Moment> m_lane_late;
    double m_stolen_s = 0;
    std::atomic<bool> m_keeps_deadlines{false};
    std::vector<std::jthread> m_threads;
};

/// How many of `these` lie in one of `those`, or begin within `grace_s` after it.
std::size_t within(const std::vector<Moment>& these, const std::vector<Moment>& those, double grace_s);

/// The share of `seconds` that lies in one of `those` or within `grace_s` after it: what `within` would find of
/// moments that have nothing to do with them.
double coverage(const std::vector<Moment>& those, double grace_s, double seconds);

} // namespace hr::benchmarks

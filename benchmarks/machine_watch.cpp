// SPDX-License-Identifier: GPL-3.0-or-later
#include "machine_watch.h"

#include "hosting/thread_priority.h"

#include <algorithm>
#include <chrono>
#include <fstream>
#include <pthread.h>
#include <string>
#include <unistd.h>

namespace hr::benchmarks {

namespace {

using Clock = std::chrono::steady_clock;

double clockS()
{
    return std::chrono::duration<double>(Clock::now().time_since_epoch()).count();
}

/// Of all cores since the machine was started (proc(5)).
double stolenSinceBootS()
{
    std::ifstream stat("/proc/stat");
    std::string word;
    stat >> word; // "cpu"
    double ticks = 0;
    for (int field = 0; field < 8; ++field)
        stat >> ticks; // the eighth is "steal"
    return ticks / static_cast<double>(sysconf(_SC_CLK_TCK));
}

} // namespace

MachineWatch::MachineWatch(std::function<void(double now_s)> look)
    : m_began_s(clockS()), m_stolen_before_s(stolenSinceBootS()), m_look(std::move(look)),
      m_late_on_core(std::max(1U, std::thread::hardware_concurrency()))
{
    for (unsigned core = 0; core < m_late_on_core.size(); ++core)
        m_threads.emplace_back([this, core](const std::stop_token& stop) { watchDeadlines(core, stop); });
    m_threads.emplace_back([this](const std::stop_token& stop) { watchLanes(stop); });
}

double MachineWatch::nowS() const
{
    return clockS() - m_began_s;
}

void MachineWatch::stop()
{
    m_threads.clear();
    m_stolen_s = stolenSinceBootS() - m_stolen_before_s;
    for (const auto& late : m_late_on_core)
        m_callback_late.insert(m_callback_late.end(), late.begin(), late.end());
    std::ranges::sort(m_callback_late, {}, &Moment::from_s);
}

void MachineWatch::watchDeadlines(unsigned core, const std::stop_token& stop)
{
    cpu_set_t only;
    CPU_ZERO(&only);
    CPU_SET(core, &only);
    pthread_setaffinity_np(pthread_self(), sizeof only, &only);
    if (hosting::requestRealtime())
        m_keeps_deadlines = true;
    auto next = Clock::now();
    while (!stop.stop_requested()) {
        next += std::chrono::milliseconds(1);
        const double due_s = std::chrono::duration<double>(next.time_since_epoch()).count() - m_began_s;
        std::this_thread::sleep_until(next);
        const double now = nowS();
        if (core == 0)
            m_look(now);
        if (now - due_s > callback_late_s) {
            m_late_on_core[core].push_back({due_s, now});
            next = Clock::now();
        }
    }
}

void MachineWatch::watchLanes(const std::stop_token& stop)
{
    hosting::setPriority(hosting::Priority::Playback);
    for (double before = nowS(); !stop.stop_requested();) {
        std::this_thread::sleep_for(std::chrono::milliseconds(5));
        const double now = nowS();
        if (now - before > lane_late_s)
            m_lane_late.push_back({before, now});
        before = now;
    }
}

std::size_t within(const std::vector<Moment>& these, const std::vector<Moment>& those, double grace_s)
{
    return static_cast<std::size_t>(std::ranges::count_if(these, [&](const Moment& a) {
        return std::ranges::any_of(
            those, [&](const Moment& b) { return a.to_s >= b.from_s && a.from_s <= b.to_s + grace_s; });
    }));
}

double coverage(const std::vector<Moment>& those, double grace_s, double seconds)
{
    double covered_s = 0;
    double until_s = 0;
    for (const Moment& one : those) { // in their order
        covered_s += std::max(0.0, one.to_s + grace_s - std::max(until_s, one.from_s));
        until_s = std::max(until_s, one.to_s + grace_s);
    }
    return seconds > 0 ? std::min(1.0, covered_s / seconds) : 0;
}

} // namespace hr::benchmarks

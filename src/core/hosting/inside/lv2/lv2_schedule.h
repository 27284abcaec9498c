// SPDX-License-Identifier: GPL-3.0-or-later
//
// The LV2 worker extension, deterministic: what a plug-in schedules while it runs is done right after
// that run, on the same thread, and its responses are handed over before the next. Nothing here is in
// real time, so that a measurement never depends on how fast another thread was.
#pragma once

#include <lilv/lilv.h>
#include <lv2/worker/worker.h>
#include <string>
#include <vector>

namespace hr::hosting::inside {

class Lv2Schedule {
public:
    Lv2Schedule() : m_feature{this, schedule} {}
    Lv2Schedule(const Lv2Schedule&) = delete;
    Lv2Schedule& operator=(const Lv2Schedule&) = delete;

    LV2_Worker_Schedule* feature() { return &m_feature; }

    /// Does what has been scheduled since the last call. After every run(), and after the start.
    void finish(LilvInstance* instance);
    /// Forgets what was scheduled for an instance that is gone.
    void clear() { m_scheduled.clear(); }

private:
    static LV2_Worker_Status schedule(LV2_Worker_Schedule_Handle self, std::uint32_t size, const void* data);
    static LV2_Worker_Status respond(LV2_Worker_Respond_Handle self, std::uint32_t size, const void* data);

    LV2_Worker_Schedule m_feature;
    std::vector<std::string> m_scheduled, m_responses; // messages are bytes to us
};

} // namespace hr::hosting::inside

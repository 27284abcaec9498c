// SPDX-License-Identifier: GPL-3.0-or-later
//
// What this host offers an LV2 plug-in: URID map and unmap, options (rate, block lengths), bounded,
// fixed and power-of-two block length, worker scheduling, state paths, log. Lives as long as the
// plug-in it was offered to.
#pragma once

#include "hosting/inside/lv2/lv2_schedule.h"
#include "processors/processor.h"

#include <array>
#include <deque>
#include <lv2/core/lv2.h>
#include <lv2/log/log.h>
#include <lv2/options/options.h>
#include <lv2/urid/urid.h>
#include <map>
#include <string>
#include <vector>

namespace hr::hosting::inside {

class Lv2Features {
public:
    /// `fixed_block`: run() is only ever called with exactly conditions.block_frames.
    Lv2Features(const processors::PlayConditions& conditions, bool fixed_block);
    Lv2Features(const Lv2Features&) = delete;
    Lv2Features& operator=(const Lv2Features&) = delete;

    /// Null-terminated, as LV2 wants it.
    const LV2_Feature* const* list() const { return m_list.data(); }

    LV2_URID map(const char* uri);
    LV2_URID_Map* urids() { return &m_map; }
    LV2_URID_Unmap* uris() { return &m_unmap; }
    Lv2Schedule& schedule() { return m_schedule; }

    /// Whether a plug-in that requires this feature can be given it.
    static bool offers(const std::string& uri);
    /// Whether it requires this option and can be given it.
    static bool offersOption(const std::string& uri);

private:
    static LV2_URID mapUri(LV2_URID_Map_Handle self, const char* uri);
    static const char* unmapUri(LV2_URID_Unmap_Handle self, LV2_URID urid);

    std::map<std::string, LV2_URID> m_urids;
    std::deque<std::string> m_uris; // urid - 1 -> uri; never moves its strings
    float m_sample_rate;
    std::int32_t m_least_block;
    std::int32_t m_most_block;
    std::int32_t m_nominal_block;
    LV2_URID_Map m_map{};
    LV2_URID_Unmap m_unmap{};
    LV2_Log_Log m_log{};
    Lv2Schedule m_schedule;
    std::array<LV2_Options_Option, 5> m_options{};
    std::vector<LV2_Feature> m_features;
    std::vector<const LV2_Feature*> m_list;
};

} // namespace hr::hosting::inside

// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/inside/lv2/lv2_features.h"

#include <algorithm>
#include <cstdarg>
#include <cstdio>
#include <lv2/atom/atom.h>
#include <lv2/buf-size/buf-size.h>
#include <lv2/parameters/parameters.h>
#include <lv2/state/state.h>

namespace hr::hosting::inside {

namespace {

constexpr std::array offered{LV2_URID__map,
                             LV2_URID__unmap,
                             LV2_OPTIONS__options,
                             LV2_LOG__log,
                             LV2_WORKER__schedule,
                             LV2_BUF_SIZE__boundedBlockLength,
                             LV2_BUF_SIZE__fixedBlockLength,    // by BlockAdapter
                             LV2_BUF_SIZE__powerOf2BlockLength, // the same
                             LV2_BUF_SIZE__coarseBlockLength,
                             LV2_STATE__loadDefaultState,
                             LV2_STATE__threadSafeRestore, // restored on the one thread that runs
                             LV2_CORE__isLive,
                             LV2_CORE__inPlaceBroken, // never run in place here
                             LV2_CORE__hardRTCapable};

constexpr std::array offered_options{LV2_BUF_SIZE__minBlockLength, LV2_BUF_SIZE__maxBlockLength,
                                     LV2_BUF_SIZE__nominalBlockLength, LV2_PARAMETERS__sampleRate};

int printToStandardError(LV2_Log_Handle, LV2_URID, const char* format, va_list arguments)
{
    return std::vfprintf(stderr, format, arguments); // ends in the worker's print file
}

int logPrint(LV2_Log_Handle handle, LV2_URID type, const char* format, ...)
{
    va_list arguments;
    va_start(arguments, format);
    const int printed = printToStandardError(handle, type, format, arguments);
    va_end(arguments);
    return printed;
}

} // namespace

Lv2Features::Lv2Features(const processors::PlayConditions& conditions, bool fixed_block)
    : m_sample_rate(static_cast<float>(conditions.sample_rate_hz)),
      m_least_block(fixed_block ? static_cast<std::int32_t>(conditions.block_frames) : 1),
      m_most_block(static_cast<std::int32_t>(conditions.block_frames)),
      m_nominal_block(m_most_block), m_map{this, mapUri}, m_unmap{this, unmapUri}, m_log{this, logPrint,
                                                                                         printToStandardError}
{
    const LV2_URID as_int = map(LV2_ATOM__Int);
    const LV2_URID as_float = map(LV2_ATOM__Float);
    m_options = {{{LV2_OPTIONS_INSTANCE, 0, map(LV2_BUF_SIZE__minBlockLength), 4, as_int, &m_least_block},
                  {LV2_OPTIONS_INSTANCE, 0, map(LV2_BUF_SIZE__maxBlockLength), 4, as_int, &m_most_block},
                  {LV2_OPTIONS_INSTANCE, 0, map(LV2_BUF_SIZE__nominalBlockLength), 4, as_int, &m_nominal_block},
                  {LV2_OPTIONS_INSTANCE, 0, map(LV2_PARAMETERS__sampleRate), 4, as_float, &m_sample_rate},
                  {LV2_OPTIONS_INSTANCE, 0, 0, 0, 0, nullptr}}};
    m_features = {{LV2_URID__map, &m_map},
                  {LV2_URID__unmap, &m_unmap},
                  {LV2_OPTIONS__options, m_options.data()},
                  {LV2_LOG__log, &m_log},
                  {LV2_WORKER__schedule, m_schedule.feature()},
                  {LV2_STATE__loadDefaultState, nullptr},
                  {LV2_STATE__threadSafeRestore, nullptr},
                  {LV2_BUF_SIZE__boundedBlockLength, nullptr}};
    if (fixed_block) {
        m_features.push_back({LV2_BUF_SIZE__fixedBlockLength, nullptr});
        m_features.push_back({LV2_BUF_SIZE__powerOf2BlockLength, nullptr});
    }
    for (const LV2_Feature& feature : m_features)
        m_list.push_back(&feature);
    m_list.push_back(nullptr);
}

LV2_URID Lv2Features::map(const char* uri)
{
    const auto [entry, added] = m_urids.try_emplace(uri, static_cast<LV2_URID>(m_uris.size() + 1));
    if (added)
        m_uris.emplace_back(uri);
    return entry->second;
}

bool Lv2Features::offers(const std::string& uri)
{
    return std::ranges::find(offered, uri) != offered.end();
}

bool Lv2Features::offersOption(const std::string& uri)
{
    return std::ranges::find(offered_options, uri) != offered_options.end();
}

LV2_URID Lv2Features::mapUri(LV2_URID_Map_Handle self, const char* uri)
{
    return static_cast<Lv2Features*>(self)->map(uri);
}

const char* Lv2Features::unmapUri(LV2_URID_Unmap_Handle self, LV2_URID urid)
{
    const auto& uris = static_cast<Lv2Features*>(self)->m_uris;
    return urid == 0 || urid > uris.size() ? nullptr : uris[urid - 1].c_str();
}

} // namespace hr::hosting::inside

// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/inside/lv2/lv2_state.h"

#include <cstdlib>
#include <lv2/state/state.h>

namespace hr::hosting::inside {

namespace {

// A name within the text, which means nothing outside of it, and a base that no other address begins with, so
// that all are written whole.
constexpr const char* state_uri = "urn:honest-rack:state";
constexpr const char* base_uri = "file:///nonexistent/";

std::string textOf(LilvWorld* world, Lv2Features& features, const LilvState* state)
{
    if (!state || lilv_state_get_num_properties(state) == 0)
        return {};
    char* written = lilv_state_to_string(world, features.urids(), features.uris(), state, state_uri, base_uri);
    std::string text = written ? written : "";
    std::free(written);
    return text;
}

} // namespace

State defaultState(LilvWorld* world, LV2_URID_Map* urids, const LilvPlugin* plugin)
{
    return State(lilv_state_new_from_world(world, urids, lilv_plugin_get_uri(plugin)));
}

State stateFrom(LilvWorld* world, LV2_URID_Map* urids, const std::string& text)
{
    return State(lilv_state_new_from_string(world, urids, text.c_str()));
}

std::string stateOf(LilvWorld* world, Lv2Features& features, const LilvPlugin* plugin, LilvInstance* instance)
{
    const State state(lilv_state_new_from_instance(plugin, instance, features.urids(), nullptr, nullptr,
                                                   nullptr, nullptr, nullptr, nullptr,
                                                   LV2_STATE_IS_POD | LV2_STATE_IS_PORTABLE, features.list()));
    return textOf(world, features, state.get());
}

std::string stateText(LilvWorld* world, Lv2Features& features, const LilvNode* preset)
{
    const State state(lilv_state_new_from_world(world, features.urids(), preset));
    return textOf(world, features, state.get());
}

} // namespace hr::hosting::inside

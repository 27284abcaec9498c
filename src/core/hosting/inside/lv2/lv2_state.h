// SPDX-License-Identifier: GPL-3.0-or-later
//
// What an LV2 plug-in keeps beside its controls, as a text in Turtle that carries it from one instance to
// another (http://lv2plug.in/ns/ext/state). Files that it may refer to do not travel with it.
#pragma once

#include "hosting/inside/lv2/lv2_features.h"
#include "hosting/inside/lv2/lv2_world.h"

namespace hr::hosting::inside {

struct FreeState {
    void operator()(LilvState* state) const { lilv_state_free(state); }
};
using State = std::unique_ptr<LilvState, FreeState>;

/// What its bundle says that it begins with; null: nothing.
State defaultState(LilvWorld* world, LV2_URID_Map* urids, const LilvPlugin* plugin);

/// Null where the text is not such a state.
State stateFrom(LilvWorld* world, LV2_URID_Map* urids, const std::string& text);

/// As the instance keeps it now; empty where it keeps nothing.
std::string stateOf(LilvWorld* world, Lv2Features& features, const LilvPlugin* plugin, LilvInstance* instance);

/// The properties of a preset, as such a text; empty where it has none but values of controls.
std::string stateText(LilvWorld* world, Lv2Features& features, const LilvNode* preset);

} // namespace hr::hosting::inside

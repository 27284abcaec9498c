// SPDX-License-Identifier: GPL-3.0-or-later
//
// What Listen and its rows work with.
#pragma once

#include "actions/action_list.h"
#include "models/alternation.h"
#include "models/line_up_edits.h"
#include "models/live_tap.h"
#include "models/settings_steps.h"
#include "services/keeping.h"
#include "services/page_routes.h"
#include "services/saved_line_ups.h"
#include "services/source_tempo.h"

namespace hr::app {

struct ListenServices {
    LineUp& line_up;
    LineUpEdits& edits;
    Transport& transport;
    SettingsSteps& settings;
    SavedLineUps& saved;
    BlindTrials& trials;
    Alternation& alternation;
    LiveTap& live;
    SourceTempo& tempo;
    Keeping& keeping;
    PageRoutes& routes;
    Navigation& navigation;
    ActionList& actions;
    QUndoStack& undo;
    Notices& notices;
};

} // namespace hr::app

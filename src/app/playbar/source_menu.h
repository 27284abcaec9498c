// SPDX-License-Identifier: GPL-3.0-or-later
//
// What there is to listen through, and what one says of it: the list, sections with names, level, role, tempo.
#pragma once

#include "actions/action_list.h"
#include "models/live_play.h"
#include "services/source_notes.h"
#include "services/source_tempo.h"

class QWidget;

namespace hr::app {

struct SourceMenuServices {
    Transport& transport;
    SourceList& sources;
    SourceNotes& notes;
    SourceTempo& tempo;
    OutsideInput& outside;
    LivePlay& live_play;
    ActionList& actions;
    Notices& notices;
};

/// Adds what it can do to the actions; questions are asked at `at`. `disabledReason` says why the source is to
/// be left alone, where it is.
void addSourceActions(const SourceMenuServices& services, QWidget* at,
                      const std::function<QString()>& disabledReason);

void openSourceMenu(const SourceMenuServices& services, QWidget* at);

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
//
// F1: every key there is, made from the actions themselves, so that it cannot say anything else than what they
// do.
#pragma once

#include "actions/action_list.h"

#include <QWidget>

namespace hr::app {

/// Opens over the middle of `over`; any click or Escape takes it away.
void openKeyList(const ActionList& actions, QWidget* over);

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
//
// Where to keep something: the collections there are, and a new one.
#pragma once

#include "frame/desk.h"

#include <functional>

class QWidget;

namespace hr::app {

using WhatToKeep = std::function<std::vector<library::CollectionItem>()>;

std::vector<library::CollectionItem> itemsAsNew(const QStringList& ids);

/// Opens under `at`; choosing keeps what `what` names at that moment, in one step.
void openKeepMenu(Desk& desk, QWidget* at, const WhatToKeep& what);

} // namespace hr::app

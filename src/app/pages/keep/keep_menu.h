// SPDX-License-Identifier: GPL-3.0-or-later
//
// Where to keep something: the collections there are, and a new one.
#pragma once

#include "services/keeping.h"

#include <functional>

class QWidget;

namespace hr::app {

using WhatToKeep = std::function<std::vector<library::CollectionItem>()>;

std::vector<library::CollectionItem> itemsAtDefaults(const QStringList& ids);

/// Opens under `at`; choosing keeps what `what` names at that moment, in one step.
void openKeepMenu(Keeping& keeping, Notices& notices, QWidget* at, const WhatToKeep& what);

} // namespace hr::app

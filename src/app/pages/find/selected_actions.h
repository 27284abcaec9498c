// SPDX-License-Identifier: GPL-3.0-or-later
//
// What can be done with the processors that are selected on Find, for keys, the menu and Ctrl+K alike.
#pragma once

#include "pages/find/find_services.h"

class QMenu;

namespace hr::app {

/// `keep` asks into which collection.
void addSelectedActions(const FindServices& services, const std::function<QStringList()>& selected,
                        const std::function<void()>& keep);
/// All of them, in groups.
void addSelectedTo(QMenu& menu, ActionList& actions);

} // namespace hr::app

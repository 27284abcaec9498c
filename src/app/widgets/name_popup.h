// SPDX-License-Identifier: GPL-3.0-or-later
//
// Asks for a name in place: a small sheet under what was pressed. Return takes it, Escape leaves all as it was.
#pragma once

#include <QString>
#include <functional>

class QWidget;

namespace hr::app {

/// `take` is called with the trimmed name, once; an empty one counts as Escape.
void askName(QWidget* at, const QString& what, const QString& proposed,
             const std::function<void(const QString&)>& take);

} // namespace hr::app

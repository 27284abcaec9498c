// SPDX-License-Identifier: GPL-3.0-or-later
//
// Asks for a name in place: a small sheet under what was pressed. Return takes it, Escape leaves all as it was.
#pragma once

#include <QPoint>
#include <QString>
#include <functional>
#include <optional>

class QWidget;

namespace hr::app {

/// `take` is called with the trimmed name, once; an empty one counts as Escape. `where`, on the screen: under
/// the widget where it is left out.
void askName(QWidget* at, const QString& what, const QString& proposed,
             const std::function<void(const QString&)>& take, std::optional<QPoint> where = std::nullopt);

} // namespace hr::app

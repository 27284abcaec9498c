// SPDX-License-Identifier: GPL-3.0-or-later
//
// What this is, which version, and how well this machine can cage third-party code.
#pragma once

#include <QWidget>

namespace hr::app {

/// Opens over the middle of `over`; any click or Escape takes it away.
void openAbout(QWidget* over);

} // namespace hr::app

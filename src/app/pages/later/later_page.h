// SPDX-License-Identifier: GPL-3.0-or-later
//
// Pages whose work is still to come: they say what they will be for.
#pragma once

class QWidget;

namespace hr::app {

QWidget* makeWritePage();

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
//
// Saving the line-up under a name, and opening the others.
#pragma once

class QWidget;

namespace hr::app {

struct ListenServices;

/// Below `at`.
void openLineUpMenu(const ListenServices& services, QWidget* at);
/// Asks for a name, and saves under it.
void saveLineUpAs(const ListenServices& services, QWidget* at);

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
//
// What can be done with one candidate: by key with the one that is audible, and from a row's menu with its own.
#pragma once

#include "audition/scene.h"

class QWidget;

namespace hr::app {

struct ListenServices;

void addCandidateActions(const ListenServices& services);
/// Below `at`.
void openCandidateMenu(const ListenServices& services, audition::ContenderId id, QWidget* at);

} // namespace hr::app

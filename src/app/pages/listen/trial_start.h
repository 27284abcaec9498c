// SPDX-License-Identifier: GPL-3.0-or-later
//
// Before a blind trial: which two, how many rounds, and what each score would mean.
#pragma once

#include "pages/listen/listen_services.h"

namespace hr::app {

/// What is heard against the reference, as a start.
void openTrialStart(const ListenServices& services, QWidget* over);

} // namespace hr::app

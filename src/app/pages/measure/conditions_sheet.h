// SPDX-License-Identifier: GPL-3.0-or-later
//
// The conditions of the bench, to be changed: rate, block, level, frequency, tempo, key and programme.
#pragma once

#include "services/bench_conditions.h"

namespace hr::app {

void openConditions(BenchConditions& conditions, QWidget* over);

} // namespace hr::app

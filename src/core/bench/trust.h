// SPDX-License-Identifier: GPL-3.0-or-later
//
// The test `trust`: everything above looked at as promises. Each figure is a verdict: `result` ("pass", "fail"
// or "not applicable"), the `value` that decided it, and a `detail`.
//
// Every check opens processors of its own, so that one that brings them down leaves the others.
#pragma once

#include "bench/figure.h"
#include "bench/reading.h"
#include "bench/subject.h"

namespace hr::bench {

const std::vector<FigureInfo>& trustFigures();
hosting::FaultOr<Reading> measureTrust(Subject& subject);

} // namespace hr::bench

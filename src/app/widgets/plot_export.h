// SPDX-License-Identifier: GPL-3.0-or-later
//
// The curves of a plot as files for others: SVG, drawn as in reports, and CSV.
#pragma once

#include "signal/result.h"
#include "widgets/plot.h"

namespace hr::app {

std::string curvesAsSvg(const Axis& x, const Axis& y, Drawing drawing, const std::vector<Curve>& curves);
/// RFC 4180 (2005): curve, x and y, with names and units in the head.
std::string curvesAsCsv(const Axis& x, const Axis& y, const std::vector<Curve>& curves);

} // namespace hr::app

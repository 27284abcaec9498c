// SPDX-License-Identifier: GPL-3.0-or-later
//
// Plots of readings: a sheet with a title, how it was measured, and the plot of a curve that tests put among
// their series (bench/plots.h).
#pragma once

#include "bench/plots.h"
#include "pages/measure/benched.h"
#include "widgets/basics.h"
#include "widgets/plot.h"

namespace hr::app {

/// A sheet that holds a plot under its title.
Sheet* plotSheet(const QString& title, const QString& how, Plot* plot);

/// An empty plot with the axes that the curve's quantities ask for: units, logarithmic or not, and a range that
/// does not dramatise.
Plot* plotFor(const bench::PlotInfo& plot);

/// The curves of all who have got them.
std::vector<Curve> curvesOf(const std::vector<Benched>& benched, const bench::PlotInfo& plot);

} // namespace hr::app

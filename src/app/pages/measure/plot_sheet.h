// SPDX-License-Identifier: GPL-3.0-or-later
//
// Plots of readings: a sheet with a title, how it was measured, and the plot of a curve that tests put among
// their series (bench/plots.h).
#pragma once

#include "bench/plots.h"
#include "pages/measure/measured_candidate.h"
#include "widgets/basics.h"
#include "widgets/plot.h"

namespace hr::app {

/// A sheet that holds a plot under its title, beside which fillPlot() says how it was measured.
Sheet* plotSheet(const QString& title, Plot* plot);

/// An empty plot with the axes that the curve's quantities ask for: units, logarithmic or not, and a range that
/// does not dramatise.
Plot* plotFor(const bench::PlotInfo& plot);

struct PlotWish {
    bool thin_on_demand = false; ///< with the thin lines that are not always shown
    int against_mark = 0;        ///< how far all are from this candidate; 0: as measured
};

/// The curves of all who have got them, the grid they share, and how they were taken. False: nobody has any.
bool fillPlot(Plot& plot, const std::vector<MeasuredCandidate>& candidates, const bench::PlotInfo& of,
              const PlotWish& wish = {});

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
//
// Plots of readings: a sheet with a title, how it was measured, and the plot of a curve that tests put among
// their series.
#pragma once

#include "pages/measure/benched.h"
#include "widgets/basics.h"
#include "widgets/plot.h"

namespace hr::app {

/// A sheet that holds a plot under its title.
Sheet* plotSheet(const QString& title, const QString& how, Plot* plot);

/// One plot of a test.
struct PlotOf {
    const char* test;
    const char* series; ///< "*" after it: all that begin so, a line each
    const char* title;
    Drawing drawing = Drawing::Lines;
};

/// All there are, by test, in the order in which they are shown.
const std::vector<PlotOf>& plotsOfTests();

/// An empty plot with the axes that the curve's quantities ask for: units, logarithmic or not, and a range that
/// does not dramatise.
Plot* plotFor(const QString& x_quantity, const QString& y_quantity, Drawing drawing);
/// What the curve of this plot has: "frequency_hz" and "magnitude_db".
std::pair<QString, QString> quantitiesOf(const PlotOf& plot);

/// The curves of all who have got them.
std::vector<Curve> curvesOf(const std::vector<Benched>& benched, const PlotOf& plot);

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
//
// The plots there are of what tests put among their series, and what their axes are: the same on Measure, on
// pages and in reports.
#pragma once

#include "bench/reading.h"

#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace hr::bench {

/// What an axis shows, by the name that series give it ("magnitude_db").
struct Quantity {
    std::string name; ///< "magnitude"
    std::string unit; ///< "dB"
    bool logarithmic = false;
    double least_span = 0; ///< never shown closer, so that what is flat looks flat
    int digits = 2;        ///< of what a cursor reads
    std::optional<std::pair<double, double>> always = std::nullopt; ///< never less than from here to there
};
Quantity quantityOf(const std::string& axis);

/// A thin line beside the curve of a candidate.
struct ThinLine {
    std::string series, name;
    bool on_demand = false; ///< else always
    bool shared = false;    ///< the same for all: drawn once
};

struct PlotInfo {
    std::string test;
    std::string series; ///< "*" after it: all that begin so, a line each
    std::string title;
    std::string x, y;   ///< axes
    bool stems = false; ///< a line up from the bottom for each point
    bool guide = false; ///< with the line on which x and y are equal
    std::optional<ThinLine> thin = std::nullopt;
};

/// What stands for the series of the harmonics' plot, which is drawn from a figure.
inline constexpr auto harmonics_list = "harmonics";

/// A place on a curve at which a figure was taken.
struct Mark {
    double x = 0, y = 0;
    std::string text; ///< "attack 20.1 ms"
};

/// By test, in the order in which they are shown.
const std::vector<PlotInfo>& allPlots();
/// Null: there is none.
const PlotInfo* plotOf(const std::string& test, const std::string& series);

/// The curves of it that a reading has; harmonics are drawn from the list of their levels.
std::vector<Curve> curvesIn(const Reading& reading, const PlotInfo& plot);
/// The conditions its curve was taken under: of one at another frequency ("in_out_at_100_hz") those of that.
const nlohmann::ordered_json& conditionsOf(const Reading& reading, const PlotInfo& plot);
/// The thin line beside them; empty where the plot, or the reading, has none.
std::optional<Curve> thinLineIn(const Reading& reading, const PlotInfo& plot);
/// What one has above another, where both are known; of stems, where both have one.
Curve differenceOf(const PlotInfo& plot, const Curve& curve, const Curve& from);
/// Where on them its figures were taken: attack and release, threshold and knee, corners, hum.
std::vector<Mark> marksOf(const Reading& reading, const PlotInfo& plot);
/// Places on the x axis to which it refers: the beats of a tempo, the periods of what moves. `y` means nothing.
std::vector<Mark> gridOf(const Reading& reading, const PlotInfo& plot);

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
//
// One parameter through its range, and a figure of the bench at each setting: does 4:1 give 4:1? Once more at
// each of a few settings of another, where that is asked for. Each setting is measured on a fresh instance, so
// that none hears the one before.
#pragma once

#include "bench/labels.h"
#include "bench/suite.h"

#include <optional>
#include <vector>

namespace hr::bench {

/// Settings of one parameter, spaced as its control is (linear, logarithmic).
struct SweepRange {
    std::size_t parameter = 0;
    double first = 0, last = 1; ///< within the parameter's range
    int steps = 9;              ///< fewest_sweep_steps to most_sweep_steps
};

struct SweepOrder {
    SweepRange swept;
    std::optional<SweepRange> beside; ///< another parameter: all of the sweep at each of its settings
    Promise promise;                  ///< which figure, and what an honest label would make it
};

inline constexpr int fewest_sweep_steps = 2;
inline constexpr int most_sweep_steps = 101;
inline constexpr int most_beside_steps = 8;

struct SweepPoint {
    std::optional<double> beside; ///< where the other parameter stood
    double set = 0;
    double honest = 0;              ///< what the label promises, in the figure's unit
    std::optional<double> measured; ///< empty: the figure is null there
    std::string reason;             ///< why it is
    std::string unsure;             ///< why what was measured is
};

/// The settings that are tried, ascending as asked; those that a stepped parameter has twice are tried once.
std::vector<double> sweepSettings(const processors::ParameterInfo& parameter, const SweepRange& range);

/// Every setting there is to measure, in order; none has been.
std::vector<SweepPoint> sweepPoints(const processors::ProcessorInfo& info, const SweepOrder& order);

/// Ends at the first setting at which the processor fails; `point` is told of each as it comes.
hosting::FaultOr<std::vector<SweepPoint>>
sweep(const hosting::Location& location, const processors::ProcessorInfo& info,
      const std::vector<double>& values, const SweepOrder& order, const Conditions& conditions,
      const MeasureControl& control = {}, const std::function<void(const SweepPoint&)>& point = {});

} // namespace hr::bench

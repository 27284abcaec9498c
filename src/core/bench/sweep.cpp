// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/sweep.h"

#include "processors/value_text.h"

#include <algorithm>
#include <cmath>

namespace hr::bench {

std::vector<double> sweepSettings(const processors::ParameterInfo& parameter, const SweepRange& range)
{
    const int steps = std::clamp(range.steps, fewest_sweep_steps, most_sweep_steps);
    const double first = processors::trackPosition(parameter, range.first);
    const double last = processors::trackPosition(parameter, range.last);
    std::vector<double> settings;
    for (int i = 0; i < steps; ++i) {
        const double value = processors::valueAt(parameter, first + (last - first) * i / (steps - 1));
        if (settings.empty() || settings.back() != value)
            settings.push_back(value);
    }
    return settings;
}

std::vector<SweepPoint> sweepPoints(const processors::ProcessorInfo& info, const SweepOrder& order)
{
    std::vector<std::optional<double>> beside{std::nullopt};
    if (order.beside) {
        SweepRange range = *order.beside;
        range.steps = std::min(range.steps, most_beside_steps);
        const auto settings = sweepSettings(info.parameters[range.parameter], range);
        beside.assign(settings.begin(), settings.end());
    }
    std::vector<SweepPoint> points;
    for (const auto& other : beside)
        for (const double set : sweepSettings(info.parameters[order.swept.parameter], order.swept))
            points.push_back({other, set, set * order.promise.factor, std::nullopt, {}});
    return points;
}

hosting::FaultOr<std::vector<SweepPoint>> sweep(const hosting::Location& location,
                                                const processors::ProcessorInfo& info,
                                                const std::vector<double>& values, const SweepOrder& order,
                                                const Conditions& conditions, const MeasureControl& control,
                                                const std::function<void(const SweepPoint&)>& point)
{
    const auto tests = testsNamed({order.promise.test});
    std::vector<SweepPoint> done;
    if (!tests || order.swept.parameter >= values.size() ||
        (order.beside && order.beside->parameter >= values.size()))
        return done;
    const auto points = sweepPoints(info, order);
    for (SweepPoint one : points) {
        if (control.cancel.stop_requested())
            break;
        if (control.progress)
            control.progress(order.promise.test,
                             static_cast<double>(done.size()) / static_cast<double>(points.size()));
        auto now = values;
        if (order.beside)
            now[order.beside->parameter] = *one.beside;
        now[order.swept.parameter] = one.set;
        const auto measurement = measure(location, info, now, *tests, conditions, {control.cancel, {}});
        if (measurement.cancelled)
            break;
        if (measurement.failure)
            return tl::make_unexpected(measurement.failure->fault);
        const Reading& reading = measurement.readings.front().second;
        one.measured = readAgainst(order.promise, one.set, reading);
        if (const auto reason = reading.reasons.find(order.promise.figure);
            !one.measured && reason != reading.reasons.end())
            one.reason = reason->second;
        done.push_back(one);
        if (point)
            point(one);
    }
    return done;
}

} // namespace hr::bench

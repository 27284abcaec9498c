// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/sweep.h"

#include "processors/value_text.h"

#include <algorithm>
#include <cmath>

namespace hr::bench {

std::vector<double> sweepSettings(const processors::ParameterInfo& parameter, const SweepOrder& order)
{
    const int steps = std::clamp(order.steps, fewest_sweep_steps, most_sweep_steps);
    const double first = processors::trackPosition(parameter, order.first);
    const double last = processors::trackPosition(parameter, order.last);
    std::vector<double> settings;
    for (int i = 0; i < steps; ++i) {
        const double value = processors::valueAt(parameter, first + (last - first) * i / (steps - 1));
        if (settings.empty() || settings.back() != value)
            settings.push_back(value);
    }
    return settings;
}

hosting::FaultOr<std::vector<SweepPoint>> sweep(const hosting::Location& location,
                                                const processors::ProcessorInfo& info,
                                                const std::vector<double>& values, const SweepOrder& order,
                                                const Conditions& conditions, const MeasureControl& control,
                                                const std::function<void(const SweepPoint&)>& point)
{
    const auto tests = testsNamed({order.promise.test});
    std::vector<SweepPoint> points;
    if (!tests || order.parameter >= values.size())
        return points;
    const auto settings = sweepSettings(info.parameters[order.parameter], order);
    for (std::size_t i = 0; i < settings.size() && !control.cancel.stop_requested(); ++i) {
        if (control.progress)
            control.progress(order.promise.test, static_cast<double>(i) / static_cast<double>(settings.size()));
        auto now = values;
        now[order.parameter] = settings[i];
        const auto measurement = measure(location, info, now, *tests, conditions, {control.cancel, {}});
        if (measurement.cancelled)
            break;
        if (measurement.failure)
            return tl::make_unexpected(measurement.failure->fault);
        SweepPoint one{settings[i], settings[i] * order.promise.factor, std::nullopt, {}};
        const Reading& reading = measurement.readings.front().second;
        one.measured = readAgainst(order.promise, settings[i], reading);
        if (const auto reason = reading.reasons.find(order.promise.figure);
            !one.measured && reason != reading.reasons.end())
            one.reason = reason->second;
        points.push_back(one);
        if (point)
            point(one);
    }
    return points;
}

} // namespace hr::bench

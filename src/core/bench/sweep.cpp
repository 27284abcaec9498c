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
            points.push_back({other, set, set * order.promise.factor, std::nullopt, {}, {}});
    return points;
}

namespace {

/// Tests that look for the tone that tells most: as it stands where the sweep begins, the whole of it is
/// measured with the same, or what another tone does would seem to be the parameter's doing. Empty for others,
/// and where nothing was found.
hosting::FaultOr<std::optional<double>> toneOf(const hosting::Location& location,
                                               const processors::ProcessorInfo& info,
                                               const std::vector<double>& values,
                                               const std::vector<TestInfo>& tests, const Conditions& conditions,
                                               const MeasureControl& control)
{
    const std::string& test = tests.front().key;
    if (conditions.frequency_hz || (test != "transfer" && test != "timing"))
        return std::optional<double>();
    const auto measurement = measure(location, info, values, tests, conditions, {control.cancel, {}});
    if (measurement.failure)
        return tl::make_unexpected(measurement.failure->fault);
    if (measurement.cancelled || measurement.readings.empty())
        return std::optional<double>();
    const Reading& reading = measurement.readings.front().second;
    const auto found = reading.conditions.find("frequency_hz");
    const bool bends =
        test == "timing" ? reading.number("attack_ms").has_value() : reading.number("threshold_db").has_value();
    return bends && found != reading.conditions.end() && found->is_number()
               ? std::optional(found->get<double>())
               : std::nullopt;
}

} // namespace

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
    auto held = conditions;
    if (auto tone_hz = toneOf(location, info, values, *tests, conditions, control); !tone_hz)
        return tl::make_unexpected(tone_hz.error());
    else if (!held.frequency_hz)
        held.frequency_hz = *tone_hz;
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
        const auto measurement = measure(location, info, now, *tests, held, {control.cancel, {}});
        if (measurement.cancelled)
            break;
        if (measurement.failure)
            return tl::make_unexpected(measurement.failure->fault);
        const Reading& reading = measurement.readings.front().second;
        one.measured = readAgainst(order.promise, one.set, reading);
        if (const auto reason = reading.reasons.find(order.promise.figure);
            !one.measured && reason != reading.reasons.end())
            one.reason = reason->second;
        one.unsure = reading.whyUnsure(order.promise.figure);
        done.push_back(one);
        if (point)
            point(one);
    }
    return done;
}

} // namespace hr::bench

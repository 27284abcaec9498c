// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/times_in_use.h"

#include "signal/levels.h"

#include <algorithm>
#include <cmath>

namespace hr::bench {

namespace {

constexpr double time_constant_part = 0.632;

/// Shares of the change of gain in dB from which and to which a time is counted.
struct Shares {
    std::string words;
    std::optional<double> from;
    double to = 0;
};

double betweenLinear(double from_db, double to_db, double part)
{
    return signal::linearToDb(std::lerp(signal::dbToLinear(from_db), signal::dbToLinear(to_db), part));
}

std::vector<Shares> sharesInUse(const GainChange& change, const LevelStep& step)
{
    const auto shareOf = [&](double gain_db) {
        return std::clamp((gain_db - change.from_db) / (change.to_db - change.from_db), 0.0, 1.0);
    };
    const auto linear = [&](double part) { return shareOf(betweenLinear(change.from_db, change.to_db, part)); };
    std::vector<Shares> all{{"63 % of the gain in dB", {}, time_constant_part},
                            {"90 % of the gain in dB", {}, 0.9},
                            {"10 to 90 % of the gain in dB", 0.1, 0.9},
                            {"63 % of the linear gain", {}, linear(time_constant_part)},
                            {"90 % of the linear gain", {}, linear(0.9)},
                            {"10 to 90 % of the linear gain", linear(0.1), linear(0.9)}};
    if (!step.model)
        return all;
    const auto detected = [&](double level_dbfs) { return shareOf(step.model->gainDb(level_dbfs)); };
    const double amplitude_dbfs = betweenLinear(step.from_dbfs, step.to_dbfs, time_constant_part);
    const double power_dbfs = betweenLinear(2 * step.from_dbfs, 2 * step.to_dbfs, time_constant_part) / 2;
    all.push_back({"63 % of the amplitude that is detected", {}, detected(amplitude_dbfs)});
    all.push_back({"63 % of the power that is detected", {}, detected(power_dbfs)});
    return all;
}

} // namespace

std::vector<TimeInUse> timesInUse(const std::vector<double>& gain_db, const GainChange& change, double from_s,
                                  double rate_hz, const LevelStep& step)
{
    std::vector<TimeInUse> times;
    for (const Shares& one : sharesInUse(change, step)) {
        const auto to_s = timeOf(gain_db, change, one.to, rate_hz);
        const auto begins_s = one.from ? timeOf(gain_db, change, *one.from, rate_hz) : std::optional(from_s);
        if (to_s && begins_s)
            times.push_back({one.words, 1000 * std::max(0.0, *to_s - *begins_s)});
    }
    return times;
}

} // namespace hr::bench

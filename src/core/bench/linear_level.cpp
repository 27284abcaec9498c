// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/linear_level.h"

#include "bench/impulse.h"
#include "bench/level_tones.h"
#include "signal/generators.h"
#include "signal/levels.h"

#include <algorithm>
#include <cmath>

namespace hr::bench {

namespace {

using hosting::FaultOr;

constexpr double same_gain_db = 0.05;
constexpr double near_db = 3;
constexpr double beyond_threshold_db = 6;
constexpr double lowest_dbfs = -60;
constexpr double highest_dbfs = -1;

/// Of a tone that has just begun: what is linear answers it alike at every level.
FaultOr<double> firstGainDb(Subject& subject, double level_dbfs)
{
    constexpr double tone_s = 0.6;
    const double rate_hz = subject.conditions().sample_rate_hz;
    if (auto started = subject.restart(); !started)
        return tl::make_unexpected(started.error());
    const auto out = subject.process(signal::sine(1000, signal::dbToLinear(level_dbfs), rate_hz,
                                                  static_cast<std::size_t>(tone_s * rate_hz)));
    if (!out)
        return tl::make_unexpected(out.error());
    return signal::rmsDbfs(out->channel(0).last(out->frames() / 3)) - level_dbfs;
}

FaultOr<bool> isLinear(Subject& subject)
{
    std::optional<double> first;
    for (const double level_dbfs : {sweep_level_dbfs, -50.0, -3.0}) {
        const auto gain_db = firstGainDb(subject, level_dbfs);
        if (!gain_db)
            return tl::make_unexpected(gain_db.error());
        if (std::abs(first.value_or(*gain_db) - *gain_db) > same_gain_db)
            return false;
        first = first.value_or(*gain_db);
    }
    return true;
}

/// Whether the gain is the same all around a level.
bool isFlatAt(const SettledLevels& levels, double level_dbfs)
{
    std::optional<double> low;
    double high = 0;
    for (std::size_t i = 0; i < levels.curve.size(); ++i)
        if (std::abs(levels.curve[i].first - level_dbfs) <= near_db + 1e-6) {
            const double gain_db = levels.gainDb(i);
            high = low ? std::max(high, gain_db) : gain_db;
            low = std::min(low.value_or(gain_db), gain_db);
        }
    return low && high - *low < same_gain_db;
}

double levelFor(const SettledLevels& levels)
{
    const LevelFigures& figures = levels.figures;
    const bool opens = figures.kind == "gate" || figures.kind == "expander" || figures.kind == "upward";
    if (opens && figures.threshold_db)
        return std::clamp(
            std::ceil(*figures.threshold_db + figures.knee_db.value_or(0) / 2 + beyond_threshold_db),
            sweep_level_dbfs, highest_dbfs);
    for (double away_db = 0; sweep_level_dbfs - away_db >= lowest_dbfs; ++away_db)
        for (const double level_dbfs : {sweep_level_dbfs - away_db, sweep_level_dbfs + away_db})
            if (level_dbfs <= highest_dbfs && isFlatAt(levels, level_dbfs))
                return level_dbfs;
    return sweep_level_dbfs;
}

} // namespace

FaultOr<double> linearLevel(Subject& subject)
{
    if (subject.conditions().level_dbfs)
        return *subject.conditions().level_dbfs;
    if (subject.known_linear_dbfs)
        return *subject.known_linear_dbfs;
    const auto linear = isLinear(subject);
    if (!linear)
        return tl::make_unexpected(linear.error());
    double level_dbfs = sweep_level_dbfs;
    if (!*linear) {
        const auto levels = levelsOf(subject);
        if (!levels)
            return tl::make_unexpected(levels.error());
        if ((*levels)->why_none.empty())
            level_dbfs = levelFor(**levels);
    }
    subject.known_linear_dbfs = level_dbfs;
    return level_dbfs;
}

} // namespace hr::bench

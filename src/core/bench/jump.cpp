// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/jump.h"

#include <algorithm>
#include <cmath>

namespace hr::bench {

namespace {

using hosting::FaultOr;
using Range = std::pair<double, double>;

constexpr double bisected_to_db = 0.1;
/// Opening and closing nearer to one another than this are one threshold.
constexpr double least_hysteresis_db = 0.5;
constexpr double longest_usual_hold_s = 1.2;
/// A gain jumps that goes with the level more than 20 times as fast as the level itself, or has come over
/// within this; a gate without hysteresis opens and closes within each cycle over some tenths of a dB.
constexpr double jumps_within_db = 0.5;
constexpr double steepest_slope = 20;
constexpr double further_step_db = 0.25;
/// How steep a part is goes by what lies between these parts of its change.
constexpr double begun = 0.1;
constexpr double ended = 0.9;

/// Settled gain of a tone of this level. Coming from below is coming from a fresh start; coming from above it
/// has to outlast a hold first.
FaultOr<double> gainOf(Subject& subject, SteppedTone& tone, std::optional<double> from_dbfs, double level_dbfs)
{
    if (from_dbfs) {
        if (auto before = tone.settled(*from_dbfs); !before)
            return tl::make_unexpected(before.error());
        for (double held_s = 0; held_s < longest_usual_hold_s; held_s += tone.stretchS())
            if (auto part = tone.stretch(level_dbfs); !part)
                return tl::make_unexpected(part.error());
    } else if (auto started = subject.restart(); !started)
        return tl::make_unexpected(started.error());
    auto out = tone.settled(level_dbfs);
    if (!out)
        return tl::make_unexpected(out.error());
    return tone.answerDbfs(level_dbfs, acLevelDbfs(*out)) - level_dbfs;
}

/// The level, within `between`, at which the gain has come `part` of the way from `from_db` to `to_db`.
struct Transition {
    double from_db = 0, to_db = 0;

    FaultOr<double> level(Subject& subject, SteppedTone& tone, std::optional<double> from_dbfs, Range between,
                          double part) const
    {
        while (between.second - between.first > bisected_to_db) {
            const double level_dbfs = (between.first + between.second) / 2;
            auto gain_db = gainOf(subject, tone, from_dbfs, level_dbfs);
            if (!gain_db)
                return gain_db;
            const bool beyond = (*gain_db - from_db) / (to_db - from_db) > part;
            (beyond ? between.second : between.first) = level_dbfs;
        }
        return (between.first + between.second) / 2;
    }
};

Transition transitionOver(const Range& jump, const LevelCurve& curve)
{
    const auto gain_db = [&](double level_dbfs) {
        return std::ranges::find(curve, level_dbfs, &LevelCurve::value_type::first)->second - level_dbfs;
    };
    return {gain_db(jump.first), gain_db(jump.second)};
}

} // namespace

FaultOr<void> tellJumpFromSlope(Subject& subject, SteppedTone& tone, SettledLevels& levels, double noise_db)
{
    const auto part = steepPart(levels.curve);
    if (!part)
        return {};
    const Transition transition = transitionOver(*part, levels.curve);
    auto begins = transition.level(subject, tone, std::nullopt, *part, begun);
    if (!begins)
        return tl::make_unexpected(begins.error());
    auto ends = transition.level(subject, tone, std::nullopt, *part, ended);
    if (!ends)
        return tl::make_unexpected(ends.error());
    const double over_db = *ends - *begins;
    const double change_db = (ended - begun) * std::abs(transition.to_db - transition.from_db);
    if (over_db < jumps_within_db || change_db > steepest_slope * over_db) {
        levels.figures = readJump(levels.curve, *part);
        return {};
    }
    const double last = std::min(0.0, part->second + levels.step_db);
    for (double level = part->first - levels.step_db; level < last; level += further_step_db) {
        if (std::ranges::find(levels.curve, level, &LevelCurve::value_type::first) != levels.curve.end())
            continue;
        auto gain_db = gainOf(subject, tone, std::nullopt, level);
        if (!gain_db)
            return tl::make_unexpected(gain_db.error());
        levels.further.emplace_back(level, level + *gain_db);
    }
    LevelCurve finer = levels.curve;
    finer.insert(finer.end(), levels.further.begin(), levels.further.end());
    std::ranges::sort(finer);
    levels.figures = readLevelCurve(finer, noise_db);
    return {};
}

FaultOr<void> bisectJump(Subject& subject, SteppedTone& tone, SettledLevels& levels)
{
    const Range jump = *levels.figures.jump;
    const Transition transition = transitionOver(jump, levels.curve);
    constexpr double half = 0.5;
    auto opens = transition.level(subject, tone, std::nullopt, jump, half);
    if (!opens)
        return tl::make_unexpected(opens.error());
    levels.figures.threshold_db = *opens;
    const double lowest = levels.curve.front().first;
    auto closes = transition.level(subject, tone, std::min(0.0, jump.second + 3), {lowest, jump.second}, half);
    if (!closes)
        return tl::make_unexpected(closes.error());
    const bool tried = *closes > lowest + bisected_to_db; // else it closed at none of them
    if (tried && std::abs(*closes - *opens) > least_hysteresis_db)
        levels.closes_db = *closes;
    return {};
}

} // namespace hr::bench

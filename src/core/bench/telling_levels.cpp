// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/telling_levels.h"

#include <cmath>

namespace hr::bench {

namespace {

using hosting::FaultOr;

constexpr double quiet_dbfs = -50;
constexpr double loud_dbfs = -12;
constexpr double more_telling_by_db = 1;

/// How far the settled gain of a loud tone is from that of a quiet one.
FaultOr<double> gainChange(Subject& subject, double frequency_hz)
{
    SteppedTone tone(subject, frequency_hz);
    if (auto started = subject.restart(); !started)
        return tl::make_unexpected(started.error());
    double change = 0;
    for (const auto& [level, sign] : {std::pair(quiet_dbfs, -1.0), {loud_dbfs, 1.0}}) {
        auto out = tone.settled(level);
        if (!out)
            return tl::make_unexpected(out.error());
        change += sign * (acLevelDbfs(*out) - level);
    }
    return std::abs(change);
}

/// Where the gain changes most with the level, and where it changes by another amount.
struct Telling {
    double frequency_hz = level_tones_hz.front();
    std::vector<double> others_hz;
};

FaultOr<Telling> tellingFrequencies(Subject& subject)
{
    std::vector<std::pair<double, double>> changes; // frequency, change of gain
    for (const double frequency_hz : level_tones_hz) {
        if (frequency_hz > 0.4 * subject.conditions().sample_rate_hz)
            continue;
        auto change = gainChange(subject, frequency_hz);
        if (!change)
            return tl::make_unexpected(change.error());
        changes.emplace_back(frequency_hz, *change);
    }
    auto most = changes.front();
    for (const auto& change : changes)
        if (change.second > most.second + (most == changes.front() ? more_telling_by_db : 0))
            most = change;
    Telling telling{most.first, {}};
    for (const auto& [frequency_hz, change] : changes)
        if (std::abs(change - most.second) > more_telling_by_db)
            telling.others_hz.push_back(frequency_hz);
    return telling;
}

FaultOr<SettledLevels> settledAt(Subject& subject, double frequency_hz)
{
    SteppedTone tone(subject, frequency_hz);
    return settleLevels(subject, tone);
}

/// `usual`, or the levels of the frequency that tells more, with those of the others beside them.
FaultOr<SettledLevels> whereTelling(Subject& subject, SettledLevels usual)
{
    auto telling = tellingFrequencies(subject);
    if (!telling)
        return tl::make_unexpected(telling.error());
    const double usual_hz = level_tones_hz.front();
    SettledLevels best = usual;
    if (telling->frequency_hz != usual_hz) {
        auto there = settledAt(subject, telling->frequency_hz);
        if (!there)
            return there;
        if (!there->isDynamic())
            return usual;
        best = std::move(*there);
    }
    for (const double other_hz : telling->others_hz) {
        auto there = other_hz == usual_hz ? usual : settledAt(subject, other_hz);
        if (!there)
            return there;
        best.elsewhere.push_back(std::move(*there));
    }
    return best;
}

} // namespace

FaultOr<std::shared_ptr<const SettledLevels>> levelsOf(Subject& subject)
{
    if (subject.known_levels)
        return subject.known_levels;
    const auto asked_hz = subject.conditions().frequency_hz;
    auto levels = settledAt(subject, asked_hz.value_or(level_tones_hz.front()));
    if (!levels)
        return tl::make_unexpected(levels.error());
    if (!asked_hz && levels->why_none.empty() && !levels->saturating) {
        auto best = whereTelling(subject, std::move(*levels));
        if (!best)
            return tl::make_unexpected(best.error());
        levels = std::move(best);
    }
    subject.known_levels = std::make_shared<const SettledLevels>(std::move(*levels));
    return subject.known_levels;
}

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/level_tones.h"

#include <algorithm>
#include <cmath>

namespace hr::bench {

namespace {

using hosting::FaultOr;

constexpr double quiet_dbfs = -50;
constexpr double loud_dbfs = -12;
constexpr double telling_from_db = 1;       // change of the gain over the curve
constexpr double nothing_below_dbfs = -120; // at the top of the curve
constexpr double stopped_by_db = 60;        // against 1 kHz: what is left of a stop band

struct Change {
    double frequency_hz = 0;
    double gain_db = 0; ///< how far the settled gain of a loud tone is from that of a quiet one
    double loud_out_dbfs = 0;
};

FaultOr<Change> changeAt(Subject& subject, double frequency_hz)
{
    SteppedTone tone(subject, frequency_hz);
    if (auto started = subject.restart(); !started)
        return tl::make_unexpected(started.error());
    auto quiet = tone.settled(quiet_dbfs);
    if (!quiet)
        return tl::make_unexpected(quiet.error());
    const double quiet_gain_db = acLevelDbfs(*quiet) - quiet_dbfs;
    auto loud = tone.settled(loud_dbfs);
    if (!loud)
        return tl::make_unexpected(loud.error());
    const double loud_out_dbfs = acLevelDbfs(*loud);
    return Change{frequency_hz, std::abs(loud_out_dbfs - loud_dbfs - quiet_gain_db), loud_out_dbfs};
}

/// At each frequency that says something; the first is the usual one.
FaultOr<std::vector<Change>> changes(Subject& subject)
{
    std::vector<Change> found;
    for (const double frequency_hz : level_tones_hz) {
        if (frequency_hz > 0.4 * subject.conditions().sample_rate_hz)
            continue;
        auto change = changeAt(subject, frequency_hz);
        if (!change)
            return tl::make_unexpected(change.error());
        if (found.empty() || change->loud_out_dbfs > found.front().loud_out_dbfs - stopped_by_db)
            found.push_back(*change);
    }
    return found;
}

/// Whether the gain depends on the level there, and something comes out.
bool tells(const SettledLevels& levels)
{
    if (levels.nothing_comes_out || levels.curve.empty() || levels.curve.back().second <= nothing_below_dbfs)
        return false;
    double lowest = levels.gainDb(0);
    double highest = lowest;
    for (std::size_t i = 1; i < levels.curve.size(); ++i) {
        lowest = std::min(lowest, levels.gainDb(i));
        highest = std::max(highest, levels.gainDb(i));
    }
    return highest - lowest >= telling_from_db;
}

FaultOr<SettledLevels> settledAt(Subject& subject, double frequency_hz)
{
    SteppedTone tone(subject, frequency_hz);
    return settleLevels(subject, tone);
}

/// `usual` where it tells something, else the levels of the first other frequency that does; with those of the
/// others beside them where the gain changes by another amount there.
FaultOr<SettledLevels> whereTelling(Subject& subject, SettledLevels usual)
{
    auto all = changes(subject);
    if (!all)
        return tl::make_unexpected(all.error());
    SettledLevels best = usual;
    double best_change_db = all->front().gain_db;
    for (std::size_t i = 1; i < all->size() && !tells(best); ++i) {
        if ((*all)[i].gain_db < telling_from_db)
            continue;
        auto there = settledAt(subject, (*all)[i].frequency_hz);
        if (!there)
            return there;
        if (!there->isDynamic())
            continue;
        best = std::move(*there);
        best_change_db = (*all)[i].gain_db;
    }
    for (const Change& other : *all) {
        if (std::abs(other.gain_db - best_change_db) <= telling_from_db)
            continue;
        const bool is_usual = other.frequency_hz == level_tones_hz.front();
        auto there = is_usual ? FaultOr<SettledLevels>(usual) : settledAt(subject, other.frequency_hz);
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
    const bool may_tell = levels->why_none.empty() || levels->nothing_comes_out;
    if (!asked_hz && may_tell && !levels->saturating) {
        auto best = whereTelling(subject, std::move(*levels));
        if (!best)
            return tl::make_unexpected(best.error());
        levels = std::move(best);
    }
    subject.known_levels = std::make_shared<const SettledLevels>(std::move(*levels));
    return subject.known_levels;
}

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/detector.h"

#include "bench/curve.h"
#include "bench/level_tones.h"
#include "bench/magnitude.h"

#include <algorithm>
#include <cmath>

namespace hr::bench {

namespace {

using hosting::FaultOr;

constexpr double detector_corner_db = 3.0103;
constexpr int detector_tones_per_octave = 3;
constexpr double lowest_detector_hz = 20;
constexpr double highest_detector_hz = 20000;
/// Below this the stretches are longer, so that their tones lie near enough to what is asked for.
constexpr double low_tones_hz = 500;
constexpr double long_stretch_s = 0.2;
/// Into the part that is not left alone.
constexpr double beyond_bend_db = 12;
constexpr double into_neutral_db = 6;
/// A gain that differs less from the neutral one says nothing; the level is raised.
constexpr double telling_change_db = 0.3;
constexpr double raised_by_db = 12;
constexpr double most_raised_dbfs = 12;
constexpr double lowered_by_db = 6;
/// Where a share of the sound is ridden, a second level tells the share.
constexpr double louder_by_db = 8;
constexpr double least_taken = 0.005; // of the amplitude: less is as good as nothing
/// What needs so much more level than the most sensitive frequency is out of reach.
constexpr double out_of_reach_db = -40;
constexpr int refinements = 5;

/// What a gain says about the level that reached the detector: the curve at the known frequency, turned round.
class Inverse {
public:
    explicit Inverse(const SettledLevels& levels)
    {
        const bool below = bendsBelow(levels);
        const double knee = levels.figures.knee_db.value_or(0);
        const double threshold = *levels.figures.threshold_db;
        m_splits = !below && levels.figures.fitsPoorly();
        m_neutral_gain_db = levels.gainDb(below ? levels.curve.size() - 1 : 0);
        m_lowest_dbfs = levels.curve.front().first;
        m_neutral_dbfs = below ? std::min(0.0, threshold + knee / 2 + into_neutral_db)
                               : std::max(m_lowest_dbfs, threshold - knee / 2 - into_neutral_db);
        const double beyond_db = m_splits ? beyond_bend_db / 2 : beyond_bend_db; // while the share still shows
        m_level_dbfs = below ? std::max(m_lowest_dbfs, threshold - beyond_db)
                             : std::min(-3.0, threshold + std::max(beyond_db, knee / 2));
        for (std::size_t i = 0; i < levels.curve.size(); ++i)
            m_points.emplace_back(std::abs(levels.gainDb(i) - m_neutral_gain_db), levels.curve[i].first);
        std::ranges::sort(m_points);
        for (std::size_t i = 0; i < levels.curve.size(); ++i)
            m_taken.emplace_back(levels.curve[i].first, takenAway(levels.gainDb(i) - m_neutral_gain_db));
    }

    static bool bendsBelow(const SettledLevels& levels)
    {
        const std::size_t last = levels.curve.size() - 1;
        return std::abs(levels.gainDb(0) - levels.gainDb(1)) >
               std::abs(levels.gainDb(last) - levels.gainDb(last - 1));
    }
    /// Whether only a share of the sound is ridden: no single knee and slope, as of a band and what is left of
    /// it.
    bool splits() const { return m_splits; }
    double levelDbfs() const { return m_level_dbfs; }
    double neutralDbfs() const { return m_neutral_dbfs; }
    double lowestDbfs() const { return m_lowest_dbfs; }
    /// Of a change of gain from the neutral one; empty beyond what was tried.
    std::optional<double> levelAt(double change_db) const
    {
        const double change = std::abs(change_db);
        return change > m_points.back().first ? std::nullopt : std::optional(valueAt(m_points, change));
    }
    /// Of the changes at two levels `apart_db` from one another, where another share is ridden: what is taken
    /// away goes with the share, so that the proportion of the two tells the lower level. Empty where none
    /// fits.
    std::optional<double> levelAt(double change_db, double louder_change_db, double apart_db) const
    {
        const double proportion = takenAway(louder_change_db) / takenAway(change_db);
        const auto proportionAt = [&](double level) {
            return valueAt(m_taken, level + apart_db) / valueAt(m_taken, level);
        };
        const auto begins =
            std::ranges::find_if(m_taken, [](const auto& point) { return point.second > least_taken; });
        double high = m_taken.back().first - apart_db;
        if (begins == m_taken.end() || begins->first > high)
            return std::nullopt;
        double low = begins->first;
        if (proportion < proportionAt(high) || proportion > proportionAt(low))
            return std::nullopt;
        while (high - low > 0.001) { // it falls as the level rises
            const double middle = (low + high) / 2;
            (proportionAt(middle) > proportion ? low : high) = middle;
        }
        return low;
    }

private:
    static double takenAway(double change_db) { return std::abs(1 - std::pow(10, change_db / 20)); }

    Points m_points; // change of gain, level
    Points m_taken;  // level, part of the amplitude that is taken away
    bool m_splits = false;
    double m_neutral_gain_db = 0, m_neutral_dbfs = 0, m_level_dbfs = 0, m_lowest_dbfs = 0;
};

class Sensitivity {
public:
    Sensitivity(Subject& subject, const SettledLevels& levels) : m_subject(subject), m_inverse(levels) {}

    /// The tone's real frequency, and the offset; empty where its gain does not change at any level.
    struct Point {
        double frequency_hz = 0;
        std::optional<double> offset_db;
    };

    FaultOr<Point> at(double asked_hz)
    {
        SteppedTone tone(m_subject, asked_hz, SteppedInput::Main,
                         asked_hz < low_tones_hz ? long_stretch_s : 0.05);
        if (auto started = m_subject.restart(); !started)
            return tl::make_unexpected(started.error());
        auto neutral = gainAt(tone, m_inverse.neutralDbfs());
        if (!neutral)
            return tl::make_unexpected(neutral.error());
        Point point{tone.frequencyHz(), std::nullopt};
        double level = m_inverse.levelDbfs();
        for (bool lowered = false; level <= most_raised_dbfs && level >= m_inverse.lowestDbfs();) {
            auto reached = levelReached(tone, level, *neutral);
            if (!reached)
                return tl::make_unexpected(reached.error());
            if (reached->dbfs) {
                point.offset_db = *reached->dbfs - level;
                break;
            }
            if (!reached->changes && lowered)
                break;
            lowered = reached->changes; // by more than anything that was tried
            level += lowered ? -lowered_by_db : raised_by_db;
        }
        return point;
    }

    double levelDbfs() const { return m_inverse.levelDbfs(); }
    bool splits() const { return m_inverse.splits(); }

private:
    /// Whether the gain says anything, and which level must have reached the detector.
    struct Reached {
        bool changes = false;
        std::optional<double> dbfs;
    };
    FaultOr<Reached> levelReached(SteppedTone& tone, double level, double neutral_db)
    {
        auto gain = gainAt(tone, level);
        if (!gain)
            return tl::make_unexpected(gain.error());
        if (std::abs(*gain - neutral_db) < telling_change_db)
            return Reached{};
        if (!m_inverse.splits())
            return Reached{true, m_inverse.levelAt(*gain - neutral_db)};
        auto louder = gainAt(tone, level + louder_by_db);
        if (!louder)
            return tl::make_unexpected(louder.error());
        return Reached{true, m_inverse.levelAt(*gain - neutral_db, *louder - neutral_db, louder_by_db)};
    }

    static FaultOr<double> gainAt(SteppedTone& tone, double level_dbfs)
    {
        auto out = tone.settled(level_dbfs);
        if (!out)
            return tl::make_unexpected(out.error());
        return acLevelDbfs(*out) - level_dbfs;
    }

    Subject& m_subject;
    Inverse m_inverse;
};

/// Where the curve crosses `level_db` between two of its points, by measuring between them.
FaultOr<double> crossingBetween(Sensitivity& sensitivity, std::pair<double, double> inside,
                                std::pair<double, double> outside, double level_db)
{
    for (int i = 0; i < refinements; ++i) {
        // A straight line on a logarithmic axis.
        const double part = std::clamp((inside.second - level_db) / (inside.second - outside.second), 0.1, 0.9);
        const double asked_hz = inside.first * std::pow(outside.first / inside.first, part);
        auto point = sensitivity.at(asked_hz);
        if (!point)
            return tl::make_unexpected(point.error());
        const std::pair<double, double> found{point->frequency_hz, point->offset_db.value_or(out_of_reach_db)};
        if (found.first == inside.first || found.first == outside.first)
            break; // as near as tones can be
        (found.second > level_db ? inside : outside) = found;
    }
    const double part = (inside.second - level_db) / (inside.second - outside.second);
    return inside.first * std::pow(outside.first / inside.first, part);
}

FaultOr<void> putCorners(Reading& reading, Sensitivity& sensitivity, const Points& points)
{
    const auto highest = std::ranges::max_element(points, {}, &Points::value_type::second);
    const double level_db = highest->second - detector_corner_db;
    const std::string flat = "on this side the detector is nowhere less sensitive by 3.01 dB";
    std::optional<double> low_hz;
    std::optional<double> high_hz;
    for (auto point = highest; point != points.begin(); --point)
        if (std::prev(point)->second < level_db) {
            auto crossing = crossingBetween(sensitivity, *point, *std::prev(point), level_db);
            if (!crossing)
                return tl::make_unexpected(crossing.error());
            low_hz = *crossing;
            break;
        }
    for (auto point = highest; std::next(point) != points.end(); ++point)
        if (std::next(point)->second < level_db) {
            auto crossing = crossingBetween(sensitivity, *point, *std::next(point), level_db);
            if (!crossing)
                return tl::make_unexpected(crossing.error());
            high_hz = *crossing;
            break;
        }
    reading.put("detector_corner_low_hz", low_hz, flat);
    reading.put("detector_corner_high_hz", high_hz, flat);
    return {};
}

std::string whyNoDetector(const SettledLevels& levels)
{
    if (!levels.why_none.empty())
        return levels.why_none;
    if (levels.saturating)
        return "the waveform is bent, not the level ridden";
    return levels.figures.kind == "linear" ? "the gain is the same at every level"
                                           : "its threshold is not known";
}

} // namespace

const std::vector<FigureInfo>& detectorFigures()
{
    const std::string filtered = "where the detector is filtered";
    static const std::vector<FigureInfo> figures{
        {.key = "detector_corner_low_hz",
         .name = "detector, lower corner",
         .unit = "Hz",
         .digits = 0,
         .allowed = {0, 0.01},
         .definition = "below it the detector is less sensitive by 3.01 dB than where it is most",
         .applies = filtered},
        {.key = "detector_corner_high_hz",
         .name = "detector, upper corner",
         .unit = "Hz",
         .digits = 0,
         .allowed = {0, 0.01},
         .definition = "above it the detector is less sensitive by 3.01 dB than where it is most",
         .applies = filtered}};
    return figures;
}

FaultOr<Reading> measureDetector(Subject& subject)
{
    Reading reading;
    auto levels = levelsOf(subject);
    if (!levels)
        return tl::make_unexpected(levels.error());
    if (!(*levels)->isDynamic() || !(*levels)->figures.threshold_db) {
        putNone(reading, detectorFigures(), whyNoDetector(**levels));
        return reading;
    }
    if ((*levels)->figures.jump) {
        putNone(reading, detectorFigures(), "its gain jumps: no offset of the level can be told from it");
        return reading;
    }
    Sensitivity sensitivity(subject, **levels);
    reading.conditions = {{"frequency_hz", (*levels)->frequency_hz}, {"level_dbfs", sensitivity.levelDbfs()}};
    if (sensitivity.splits())
        reading.flags.push_back(
            {"poor-fit",
             "only a share of the sound seems to be ridden: the detector is told from how that "
             "share goes with the level",
             {"detector_corner_low_hz", "detector_corner_high_hz"}});
    Curve& curve = reading.series["sensitivity"] = {"frequency_hz", "offset_db", {}};
    const double highest_hz = std::min(highest_detector_hz, 0.45 * subject.conditions().sample_rate_hz);
    Points points;
    for (const double asked_hz : logarithmicGrid(lowest_detector_hz, highest_hz, detector_tones_per_octave)) {
        auto point = sensitivity.at(asked_hz);
        if (!point)
            return tl::make_unexpected(point.error());
        if (!points.empty() && point->frequency_hz <= points.back().first)
            continue;
        points.emplace_back(point->frequency_hz, point->offset_db.value_or(out_of_reach_db));
        if (point->offset_db)
            curve.points.emplace_back(points.back());
    }
    if (curve.points.empty()) {
        putNone(reading, detectorFigures(),
                "at no frequency could its gain be told from the curve that is known");
        return reading;
    }
    if (auto done = putCorners(reading, sensitivity, points); !done)
        return tl::make_unexpected(done.error());
    return reading;
}

} // namespace hr::bench

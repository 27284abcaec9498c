// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/detector.h"

#include "bench/curve.h"
#include "bench/magnitude.h"
#include "bench/settled_levels.h"

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
        m_neutral_gain_db = levels.gainDb(below ? levels.curve.size() - 1 : 0);
        m_neutral_dbfs = below ? std::min(0.0, threshold + knee / 2 + into_neutral_db)
                               : std::max(levels.curve.front().first, threshold - knee / 2 - into_neutral_db);
        m_level_dbfs = below ? std::max(levels.curve.front().first, threshold - beyond_bend_db)
                             : std::min(-3.0, threshold + std::max(beyond_bend_db, knee / 2));
        for (std::size_t i = 0; i < levels.curve.size(); ++i)
            m_points.emplace_back(std::abs(levels.gainDb(i) - m_neutral_gain_db), levels.curve[i].first);
        std::ranges::sort(m_points);
    }

    static bool bendsBelow(const SettledLevels& levels)
    {
        const std::size_t last = levels.curve.size() - 1;
        return std::abs(levels.gainDb(0) - levels.gainDb(1)) >
               std::abs(levels.gainDb(last) - levels.gainDb(last - 1));
    }
    double levelDbfs() const { return m_level_dbfs; }
    double neutralDbfs() const { return m_neutral_dbfs; }
    /// Of a change of gain from the neutral one; empty beyond what was tried.
    std::optional<double> levelAt(double change_db) const
    {
        const double change = std::abs(change_db);
        return change > m_points.back().first ? std::nullopt : std::optional(valueAt(m_points, change));
    }

private:
    Points m_points; // change of gain, level
    double m_neutral_gain_db = 0, m_neutral_dbfs = 0, m_level_dbfs = 0;
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
        for (double level = m_inverse.levelDbfs(); level <= most_raised_dbfs; level += raised_by_db) {
            auto gain = gainAt(tone, level);
            if (!gain)
                return tl::make_unexpected(gain.error());
            const double change = *gain - *neutral;
            if (std::abs(change) < telling_change_db)
                continue;
            if (const auto reached = m_inverse.levelAt(change))
                point.offset_db = *reached - level;
            break;
        }
        return point;
    }

    double levelDbfs() const { return m_inverse.levelDbfs(); }

private:
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
    if (auto done = putCorners(reading, sensitivity, points); !done)
        return tl::make_unexpected(done.error());
    return reading;
}

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/likeness.h"

#include "signal/number_text.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdio>

namespace hr::bench {

namespace {

// What can just be noticed.
constexpr double just_noticed_db = 0.5;
constexpr double just_noticed_time_percent = 10;
constexpr double just_noticed_harmonic_db = 3;

constexpr double level_counts = 0.1;
constexpr double compared_from_hz = 20, compared_until_hz = 18000;
constexpr double least_harmonic_db = -80;
constexpr double as_good_as_unlike = 20; ///< times what can be noticed: one has what the other has not
constexpr int columns = 200;

using Points = std::vector<std::pair<double, double>>;

/// On the line between the points around x; the ends go on level.
double valueAt(const Points& points, double x)
{
    const auto after = std::ranges::lower_bound(points, x, {}, &std::pair<double, double>::first);
    if (after == points.begin())
        return points.front().second;
    if (after == points.end())
        return points.back().second;
    const auto before = after - 1;
    const double part = (x - before->first) / (after->first - before->first);
    return before->second + part * (after->second - before->second);
}

const Points* curveOf(const Reading& reading, const char* key)
{
    const auto found = reading.series.find(key);
    return found == reading.series.end() || found->second.points.size() < 2 ? nullptr : &found->second.points;
}

std::string levelNote(double level_db)
{
    if (std::abs(level_db) < 0.05)
        return {};
    return "and " + signal::fixedText(std::abs(level_db), 1) + " dB in level";
}

/// RMS of the difference once its mean is taken out, over x evenly on its scale.
std::optional<Apart> curvesApart(const std::string& test, const Points& one, const Points& other,
                                 bool logarithmic)
{
    double from = std::max(one.front().first, other.front().first);
    double until = std::min(one.back().first, other.back().first);
    if (logarithmic) {
        from = std::max(from, compared_from_hz);
        until = std::min(until, compared_until_hz);
    }
    if (!(until > from))
        return std::nullopt;
    std::vector<double> differences;
    double mean = 0;
    for (int i = 0; i < columns; ++i) {
        const double part = static_cast<double>(i) / (columns - 1);
        const double x = logarithmic ? from * std::pow(until / from, part) : from + (until - from) * part;
        constexpr double deepest_db = -100; // what is below is as good as nothing
        differences.push_back(std::max(valueAt(other, x), deepest_db) - std::max(valueAt(one, x), deepest_db));
        mean += differences.back() / columns;
    }
    double square = 0;
    for (const double difference : differences)
        square += (difference - mean) * (difference - mean) / columns;
    return Apart{test, std::sqrt(square), "dB",
                 std::sqrt(square + level_counts * level_counts * mean * mean) / just_noticed_db,
                 levelNote(mean)};
}

/// Times as parts of each other, in percent.
std::optional<Apart> timesApart(const std::string& test, const Reading& one, const Reading& other)
{
    double square = 0;
    double missing = 0;
    int count = 0;
    std::string note;
    for (const char* key : {"attack_ms", "release_ms"}) {
        const auto here = one.number(key);
        const auto there = other.number(key);
        if (here && there && *here > 0 && *there > 0) {
            const double percent = 100 * std::log(*there / *here);
            square += percent * percent;
            ++count;
        } else if (here.has_value() != there.has_value()) {
            missing += as_good_as_unlike * as_good_as_unlike;
            ++count;
            note = std::string("one of them has no ") + key;
        }
    }
    if (count == 0)
        return std::nullopt;
    const double noticed = square / (just_noticed_time_percent * just_noticed_time_percent) + missing;
    return Apart{test, std::sqrt(square / count), "%", std::sqrt(noticed / count), note};
}

std::vector<double> harmonicsOf(const Reading& reading)
{
    std::vector<double> levels_db;
    if (const auto list = reading.figures.find("harmonics_db");
        list != reading.figures.end() && list->is_array())
        for (const auto& level : *list)
            levels_db.push_back(level.is_number() ? level.get<double>() : least_harmonic_db);
    return levels_db;
}

std::optional<Apart> harmonicsApart(const std::string& test, const Reading& one, const Reading& other)
{
    const auto here = harmonicsOf(one);
    const auto there = harmonicsOf(other);
    double square = 0;
    int count = 0;
    for (std::size_t k = 0; k < std::max(here.size(), there.size()); ++k) {
        const double a = std::max(k < here.size() ? here[k] : least_harmonic_db, least_harmonic_db);
        const double b = std::max(k < there.size() ? there[k] : least_harmonic_db, least_harmonic_db);
        if (a == least_harmonic_db && b == least_harmonic_db)
            continue;
        square += (a - b) * (a - b);
        ++count;
    }
    if (count == 0)
        return Apart{test, 0, "dB", 0, "neither has any above -80 dB"};
    const double rms = std::sqrt(square / count);
    return Apart{test, rms, "dB", rms / just_noticed_harmonic_db, {}};
}

} // namespace

const std::vector<std::string>& comparableTests()
{
    static const std::vector<std::string> tests{"response", "transfer", "timing", "harmonics"};
    return tests;
}

std::optional<Apart> apart(const std::string& test, const Reading& one, const Reading& other)
{
    if (test == "timing")
        return timesApart(test, one, other);
    if (test == "harmonics")
        return harmonicsApart(test, one, other);
    const char* series = test == "response" ? "magnitude" : "in_out";
    const Points* here = curveOf(one, series);
    const Points* there = curveOf(other, series);
    return here && there ? curvesApart(test, *here, *there, test == "response") : std::nullopt;
}

double togetherApart(const std::vector<Apart>& tests)
{
    double square = 0;
    for (const Apart& one : tests)
        square += one.noticeable * one.noticeable;
    return tests.empty() ? 0 : std::sqrt(square / static_cast<double>(tests.size()));
}

} // namespace hr::bench

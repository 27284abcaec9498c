// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/fingerprint.h"

#include "bench/curve.h"
#include "signal/levels.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace hr::bench {

namespace {

constexpr float not_measured = std::numeric_limits<float>::quiet_NaN();
constexpr double harmonics_floor_db = -120;
constexpr double noticed_harmonic_db = 6;
/// Beyond this two levels are as different as they can sound.
constexpr float most_noticed = 60;

enum class Stretch : std::size_t { Response, InOut, Harmonics, Times, Decay, Echoes, Movement, Noise, Sides };
/// Those after it are of what only some have.
constexpr auto last_of_all = static_cast<std::size_t>(Stretch::Harmonics);

constexpr const PrintPart& partOf(Stretch stretch)
{
    return fingerprint_parts[static_cast<std::size_t>(stretch)];
}

float bounded(double figure)
{
    return std::clamp(static_cast<float>(figure), -most_noticed, most_noticed);
}

/// Of the power between two frequencies: a comb has no level at one alone.
double meanDb(const Points& points, double from_hz, double to_hz)
{
    double power = 0;
    int count = 0;
    for (const auto& [frequency_hz, magnitude_db] : points)
        if (frequency_hz >= from_hz && frequency_hz < to_hz) {
            power += signal::dbToPower(magnitude_db);
            ++count;
        }
    return count > 0 ? signal::powerToDb(power / count) : valueAt(points, std::sqrt(from_hz * to_hz));
}

void putResponse(Fingerprint& print, const Reading& reading)
{
    const Points* points = pointsOf(reading, "magnitude");
    if (!points)
        return;
    const double passband_db = reading.number("passband_db").value_or(valueAt(*points, 1000));
    const double half_band = std::pow(2, 1.0 / 6);
    for (std::size_t i = 0; i < partOf(Stretch::Response).count; ++i) {
        const double centre_hz = 1000 * std::pow(2, (static_cast<double>(i) - 17) / 3);
        // The lowest takes in what lies below: by that alone what removes DC is told from a wire.
        const double from_hz = i == 0 ? points->front().first : centre_hz / half_band;
        print[i] = bounded(meanDb(*points, from_hz, centre_hz * half_band) - passband_db);
    }
}

void putInOut(Fingerprint& print, const Reading& reading)
{
    const Points* points = pointsOf(reading, "in_out");
    if (!points)
        return;
    const auto gain_db = [&](double in_dbfs) { return valueAt(*points, in_dbfs) - in_dbfs; };
    for (std::size_t i = 0; i < partOf(Stretch::InOut).count; ++i)
        print[partOf(Stretch::InOut).first + i] =
            bounded(gain_db(-58 + 2 * static_cast<double>(i)) - gain_db(-58));
}

void putHarmonics(Fingerprint& print, const Reading& reading)
{
    const auto list = reading.figures.find("harmonics_db");
    if (list == reading.figures.end() || !list->is_array())
        return;
    const auto scaled = [](double db) {
        return static_cast<float>((std::max(db, harmonics_floor_db) - harmonics_floor_db) /
                                  noticed_harmonic_db);
    };
    for (std::size_t i = 0; i + 1 < partOf(Stretch::Harmonics).count; ++i)
        print[partOf(Stretch::Harmonics).first + i] =
            scaled(i < list->size() && (*list)[i].is_number() ? (*list)[i].get<double>() : harmonics_floor_db);
    print[partOf(Stretch::Harmonics).first + partOf(Stretch::Harmonics).count - 1] =
        scaled(reading.number("thd_db").value_or(harmonics_floor_db));
}

/// Steps of so many to the octave above `lowest`; 0 where there is none.
float octaves(std::optional<double> figure, double lowest, double steps_an_octave)
{
    return figure && *figure > lowest ? bounded(steps_an_octave * std::log2(*figure / lowest)) : 0.0F;
}

/// So many of a unit above `lowest`; 0 where there is none.
float above(std::optional<double> figure, double lowest, double step)
{
    return figure && *figure > lowest ? bounded((*figure - lowest) / step) : 0.0F;
}

/// Of the first in a list of objects.
std::optional<double> firstIn(const Reading& reading, const char* list, const char* key)
{
    const auto found = reading.figures.find(list);
    if (found == reading.figures.end() || !found->is_array() || found->empty() || !found->front().is_object() ||
        !found->front().value(key, nlohmann::ordered_json()).is_number())
        return std::nullopt;
    return found->front().at(key).get<double>();
}

/// What only some have: 0 where there is none.
std::vector<float> figuresOf(Stretch stretch, const Reading& reading)
{
    const auto figure = [&reading](const char* key) { return reading.number(key); };
    switch (stretch) {
    case Stretch::Times:
        return {octaves(figure("attack_ms"), 0.05, 3), octaves(figure("release_ms"), 0.05, 3)};
    case Stretch::Decay:
        return {octaves(figure("rt60_s"), 0.02, 6), octaves(figure("edt_s"), 0.02, 6),
                above(figure("predelay_ms"), 0, 5)};
    case Stretch::Echoes:
        return {octaves(firstIn(reading, "echoes", "time_ms"), 0.5, 5), octaves(figure("repeat_ms"), 0.5, 5),
                above(figure("feedback_db"), -60, 3)};
    case Stretch::Movement:
        return {octaves(figure("amplitude_rate_hz"), 0.01, 3), above(figure("amplitude_depth_db"), 0, 1),
                octaves(figure("pitch_rate_hz"), 0.01, 3), above(figure("pitch_depth_cents"), 0, 5),
                above(figure("notch_count"), 0, 1.0 / 3)};
    case Stretch::Noise:
        return {above(figure("idle_dbfs"), -130, 6)};
    case Stretch::Sides:
        return {bounded(figure("width_db").value_or(0)),
                above(1 - figure("correlation").value_or(1), 0, 1.0 / 15)};
    default:
        return {};
    }
}

/// Whether anything stands in it: that neither has a reverb makes no two alike.
bool hasAny(const Fingerprint& print, const PrintPart& part)
{
    const auto first = print.begin() + static_cast<std::ptrdiff_t>(part.first);
    return std::any_of(first, first + static_cast<std::ptrdiff_t>(part.count),
                       [](float figure) { return figure != 0; });
}

/// Mean squared difference, or NaN where one of them has not got this part.
float apart(const Fingerprint& a, const Fingerprint& b, const PrintPart& part)
{
    float sum = 0;
    for (std::size_t i = part.first; i < part.first + part.count; ++i)
        sum += (a[i] - b[i]) * (a[i] - b[i]);
    return sum / static_cast<float>(part.count);
}

} // namespace

Fingerprint fingerprintOf(const std::vector<std::pair<std::string, Reading>>& readings)
{
    Fingerprint print;
    print.fill(not_measured);
    for (const auto& [test, reading] : readings) {
        if (test == "response")
            putResponse(print, reading);
        else if (test == "transfer")
            putInOut(print, reading);
        else if (test == "harmonics")
            putHarmonics(print, reading);
        for (const auto& [name, stretch] : {std::pair("timing", Stretch::Times),
                                            {"decay", Stretch::Decay},
                                            {"echoes", Stretch::Echoes},
                                            {"movement", Stretch::Movement},
                                            {"noise", Stretch::Noise},
                                            {"stereo", Stretch::Sides}})
            if (test == name)
                std::ranges::copy(figuresOf(stretch, reading),
                                  print.begin() + static_cast<std::ptrdiff_t>(partOf(stretch).first));
    }
    return print;
}

Fingerprint merged(const Fingerprint& fresh, const Fingerprint& before)
{
    Fingerprint both = fresh;
    for (std::size_t i = 0; i < both.size(); ++i)
        if (std::isnan(both[i]))
            both[i] = before[i];
    return both;
}

float distance(const Fingerprint& a, const Fingerprint& b)
{
    float sum = 0;
    int common = 0;
    for (std::size_t i = 0; i < fingerprint_parts.size(); ++i) {
        const PrintPart& part = fingerprint_parts[i];
        const float one = apart(a, b, part);
        if (std::isnan(one) || (i > last_of_all && !hasAny(a, part) && !hasAny(b, part)))
            continue;
        sum += one;
        ++common;
    }
    return common == 0 ? std::numeric_limits<float>::infinity() : std::sqrt(sum / static_cast<float>(common));
}

std::vector<Near> nearest(std::span<const Fingerprint> all, const Fingerprint& wanted, std::size_t count)
{
    std::vector<Near> near;
    near.reserve(all.size());
    for (std::size_t i = 0; i < all.size(); ++i)
        if (const float far = distance(all[i], wanted); std::isfinite(far))
            near.push_back({i, far});
    count = std::min(count, near.size());
    std::ranges::partial_sort(near, near.begin() + static_cast<std::ptrdiff_t>(count), {}, &Near::distance);
    near.resize(count);
    return near;
}

} // namespace hr::bench

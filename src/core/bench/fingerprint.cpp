// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/fingerprint.h"

#include "bench/curve.h"

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

struct Part {
    std::size_t first, count;
};
constexpr std::array<Part, 3> print_parts{{{0, fingerprint_response},
                                           {fingerprint_response, fingerprint_in_out},
                                           {fingerprint_response + fingerprint_in_out, fingerprint_harmonics}}};

float bounded(double figure)
{
    return std::clamp(static_cast<float>(figure), -most_noticed, most_noticed);
}

void putResponse(Fingerprint& print, const Reading& reading)
{
    const Points* points = pointsOf(reading, "magnitude");
    if (!points)
        return;
    const double passband_db = reading.number("passband_db").value_or(valueAt(*points, 1000));
    for (std::size_t i = 0; i < fingerprint_response; ++i)
        print[i] =
            bounded(valueAt(*points, 1000 * std::pow(2, (static_cast<double>(i) - 17) / 3)) - passband_db);
}

void putInOut(Fingerprint& print, const Reading& reading)
{
    const Points* points = pointsOf(reading, "in_out");
    if (!points)
        return;
    const auto gain_db = [&](double in_dbfs) { return valueAt(*points, in_dbfs) - in_dbfs; };
    for (std::size_t i = 0; i < fingerprint_in_out; ++i)
        print[print_parts[1].first + i] = bounded(gain_db(-58 + 2 * static_cast<double>(i)) - gain_db(-58));
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
    for (std::size_t i = 0; i + 1 < fingerprint_harmonics; ++i)
        print[print_parts[2].first + i] =
            scaled(i < list->size() && (*list)[i].is_number() ? (*list)[i].get<double>() : harmonics_floor_db);
    print[print_parts[2].first + fingerprint_harmonics - 1] =
        scaled(reading.number("thd_db").value_or(harmonics_floor_db));
}

/// Mean squared difference, or NaN where one of them has not got this part.
float apart(const Fingerprint& a, const Fingerprint& b, const Part& part)
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
    for (const Part& part : print_parts)
        if (const float one = apart(a, b, part); !std::isnan(one)) {
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

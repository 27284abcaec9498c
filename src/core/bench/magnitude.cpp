// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/magnitude.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace hr::bench {

namespace {

constexpr int grid_per_octave = 192;
/// Slopes are taken between these,
constexpr double lowest_slope_hz = 10;
constexpr double highest_slope_share = 0.45; // of the sample rate
/// as far as corners are known.
constexpr double corner_may_be_off = 0.01;
/// Extremes of a Q of 1000 are four points wide.
constexpr int extremes_per_octave = 2880;
constexpr double corner_drop_db = 3.0103; // half the power
constexpr double least_extreme_db = 0.5;
/// What lies deeper below the passband is the floor of the arithmetic.
constexpr double deepest_extreme_db = 60;

struct Window {
    std::size_t first = 0, count = 0;
};

/// Where a window of `width_db` slid over `sorted` holds most; the louder of equals.
Window densest(const std::vector<double>& sorted, Window within, double width_db)
{
    Window best;
    std::size_t end = within.first;
    for (std::size_t first = within.first; first < within.first + within.count; ++first) {
        while (end < within.first + within.count && sorted[end] <= sorted[first] + width_db)
            ++end;
        if (end - first >= best.count)
            best = {first, end - first};
    }
    return best;
}

double passband(const MagnitudeDb& magnitude, double sample_rate_hz)
{
    std::vector<double> values;
    for (const double f : logarithmicGrid(20, 0.45 * sample_rate_hz, grid_per_octave))
        values.push_back(magnitude(f));
    return passbandOf(std::move(values));
}

/// Where `magnitude` crosses `level_db` between two frequencies on either side of it.
double crossing(const MagnitudeDb& magnitude, double level_db, double one_hz, double other_hz)
{
    const bool above = magnitude(one_hz) > level_db;
    for (int i = 0; i < 40; ++i) {
        const double middle = std::sqrt(one_hz * other_hz);
        ((magnitude(middle) > level_db) == above ? one_hz : other_hz) = middle;
    }
    return std::sqrt(one_hz * other_hz);
}

/// First grid frequency, coming from outside, at which the level is reached; the corner before it.
template<class Grid>
std::optional<double> corner(const MagnitudeDb& magnitude, double level_db, const Grid& from_outside)
{
    auto previous = *from_outside.begin();
    if (magnitude(previous) >= level_db)
        return std::nullopt; // it never falls that far
    for (const double f : from_outside) {
        if (magnitude(f) >= level_db)
            return crossing(magnitude, level_db, previous, f);
        previous = f;
    }
    return std::nullopt;
}

/// Highest point of `shape` between two grid neighbours, by ternary search on the log axis.
double summit(const std::function<double(double)>& shape, double low_hz, double high_hz)
{
    double low = std::log(low_hz);
    double high = std::log(high_hz);
    for (int i = 0; i < 60; ++i) {
        const double a = low + (high - low) / 3;
        const double b = high - (high - low) / 3;
        (shape(std::exp(a)) < shape(std::exp(b)) ? low : high) =
            shape(std::exp(a)) < shape(std::exp(b)) ? a : b;
    }
    return std::exp((low + high) / 2);
}

/// How far one must come down from grid point `at` before it rises above it again, on the lesser side.
double prominence(const std::vector<double>& values, std::size_t at)
{
    double lowest_left = values[at];
    for (std::size_t i = at; i-- > 0 && values[i] <= values[at];)
        lowest_left = std::min(lowest_left, values[i]);
    double lowest_right = values[at];
    for (std::size_t i = at + 1; i < values.size() && values[i] <= values[at]; ++i)
        lowest_right = std::min(lowest_right, values[i]);
    return values[at] - std::max(lowest_left, lowest_right);
}

/// In hertz, between the points on both sides of a peak at which it has come down to a level; empty where one
/// side never falls that far. A peak can stand between two grid points that are both below that, so its own
/// place is one of the ends searched.
std::optional<double> bandwidthAt(double level_db, const std::function<double(double)>& shape,
                                  const std::vector<double>& grid, const std::vector<double>& values,
                                  std::size_t near, double centre_hz)
{
    std::size_t left = grid[near] < centre_hz ? near : near - 1;
    std::size_t right = left + 1;
    while (left > 0 && values[left] > level_db)
        --left;
    while (right + 1 < grid.size() && values[right] > level_db)
        ++right;
    if (values[left] > level_db || values[right] > level_db)
        return std::nullopt;
    const double low_hz = crossing(shape, level_db, std::min(grid[left + 1], centre_hz), grid[left]);
    const double high_hz = crossing(shape, level_db, std::max(grid[right - 1], centre_hz), grid[right]);
    return high_hz > low_hz ? std::optional(high_hz - low_hz) : std::nullopt;
}

/// Peaks of `shape`, which is the magnitude above the passband, or below it turned round.
std::vector<Extreme> extremes(const std::function<double(double)>& shape, const std::vector<double>& grid,
                              double sign)
{
    std::vector<double> values;
    for (const double f : grid)
        values.push_back(shape(f));
    std::vector<Extreme> found;
    for (std::size_t i = 1; i + 1 < grid.size(); ++i) {
        if (values[i] < least_extreme_db || values[i] < values[i - 1] || values[i] <= values[i + 1] ||
            prominence(values, i) < least_extreme_db)
            continue;
        Extreme extreme;
        extreme.frequency_hz = summit(shape, grid[i - 1], grid[i + 1]);
        const double height_db = shape(extreme.frequency_hz);
        if (sign < 0 && height_db > deepest_extreme_db)
            continue;
        extreme.gain_db = sign * height_db;
        extreme.prominence_db = prominence(values, i);
        const auto bandwidth_hz = [&](double level_db) {
            return bandwidthAt(level_db, shape, grid, values, i, extreme.frequency_hz);
        };
        if (const auto half_height_hz = bandwidth_hz(height_db / 2))
            extreme.q = extreme.frequency_hz / *half_height_hz;
        extreme.bandwidth_3db_hz = bandwidth_hz(height_db - corner_drop_db);
        found.push_back(extreme);
    }
    return found;
}

/// Fall in an octave, where it lies in the band: one that leaves it by no more than a corner may be off (a
/// corner of 40 Hz, say) ends at its edge.
std::optional<double> slopeFrom(const MagnitudeDb& magnitude, double near_hz, double far_hz,
                                double sample_rate_hz)
{
    const double end_hz = std::clamp(far_hz, lowest_slope_hz, highest_slope_share * sample_rate_hz);
    if (std::abs(far_hz / end_hz - 1) > corner_may_be_off)
        return std::nullopt;
    return (magnitude(near_hz) - magnitude(end_hz)) / std::abs(std::log2(end_hz / near_hz));
}

} // namespace

std::vector<double> logarithmicGrid(double low_hz, double high_hz, int per_octave)
{
    const auto steps = static_cast<std::size_t>(std::ceil(std::log2(high_hz / low_hz) * per_octave));
    std::vector<double> grid(steps + 1);
    for (std::size_t i = 0; i <= steps; ++i)
        grid[i] = low_hz * std::pow(high_hz / low_hz, static_cast<double>(i) / static_cast<double>(steps));
    return grid;
}

double passbandOf(std::vector<double> values)
{
    std::ranges::sort(values);
    const Window wide = densest(values, {0, values.size()}, 1.0);
    const Window narrow = densest(values, wide, 0.1);
    const auto begin = values.begin() + static_cast<std::ptrdiff_t>(narrow.first);
    return std::accumulate(begin, begin + static_cast<std::ptrdiff_t>(narrow.count), 0.0) /
           static_cast<double>(narrow.count);
}

MagnitudeFigures readMagnitude(const MagnitudeDb& magnitude, double sample_rate_hz)
{
    MagnitudeFigures figures;
    figures.passband_db = passband(magnitude, sample_rate_hz);
    const double corner_db = figures.passband_db - corner_drop_db;
    std::vector<double> grid = logarithmicGrid(10, 0.485 * sample_rate_hz, grid_per_octave);
    figures.corner_low_hz = corner(magnitude, corner_db, grid);
    figures.corner_high_hz = corner(magnitude, corner_db, std::vector<double>(grid.rbegin(), grid.rend()));
    if (figures.corner_low_hz)
        figures.slope_low_db_per_octave =
            slopeFrom(magnitude, *figures.corner_low_hz / 2, *figures.corner_low_hz / 4, sample_rate_hz);
    if (figures.corner_high_hz)
        figures.slope_high_db_per_octave =
            slopeFrom(magnitude, *figures.corner_high_hz * 2, *figures.corner_high_hz * 4, sample_rate_hz);
    grid = logarithmicGrid(10, 0.485 * sample_rate_hz, extremes_per_octave);
    figures.peaks = extremes([&](double f) { return magnitude(f) - figures.passband_db; }, grid, 1);
    figures.notches = extremes([&](double f) { return figures.passband_db - magnitude(f); }, grid, -1);
    // Beyond these they lie on the edges of the band, where only half of them can be seen.
    for (auto* list : {&figures.peaks, &figures.notches})
        std::erase_if(*list, [&](const Extreme& e) {
            return e.frequency_hz < 19.95 || e.frequency_hz > 0.45 * sample_rate_hz;
        });
    return figures;
}

} // namespace hr::bench

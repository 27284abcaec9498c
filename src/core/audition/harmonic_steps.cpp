// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/harmonic_steps.h"

#include "bench/curve.h"

#include <cmath>

namespace hr::audition {

namespace {

constexpr double least_told_db = -90;
constexpr double least_rise_db = 1;
/// A rise is the response's own where they agree this well.
constexpr double agrees_db = 1;
/// What was there and rises by less is not said to be added: a room raises one tone and lowers the next.
constexpr double least_added_db = 6;

std::optional<double> levelOf(const PathPoint& point, std::size_t order)
{
    return order - 2 < point.harmonics_db.size() ? point.harmonics_db[order - 2] : std::nullopt;
}

/// By how much the node between two points raises `hz` against the fundamental; empty: it is not known.
std::optional<double> raisedBy(const PathPoint& before, const PathPoint& after, double fundamental_hz,
                               double hz)
{
    if (before.response.empty() || after.response.empty() || hz > after.response.back().first)
        return std::nullopt;
    const auto gain_db = [&](double at_hz) {
        return bench::valueAt(after.response, at_hz) - bench::valueAt(before.response, at_hz);
    };
    return gain_db(hz) - gain_db(fundamental_hz);
}

} // namespace

std::vector<HarmonicStep> harmonicSteps(const AlongPath& path, double frequency_hz)
{
    std::vector<HarmonicStep> steps;
    for (std::size_t order = 2; order <= most_harmonics + 1; ++order)
        for (std::size_t i = 1; i < path.points.size(); ++i) {
            const auto now = levelOf(path.points[i], order);
            const auto before = levelOf(path.points[i - 1], order);
            if (!now || *now < least_told_db)
                continue;
            const double rise_db = *now - before.value_or(least_harmonic_db);
            if (rise_db < least_rise_db)
                continue;
            const auto raised = raisedBy(path.points[i - 1], path.points[i], frequency_hz,
                                         static_cast<double>(order) * frequency_hz);
            const bool by_response =
                before && (rise_db < least_added_db || (raised && std::abs(rise_db - *raised) < agrees_db));
            steps.push_back({path.points[i].after, order, *now, rise_db, !by_response});
        }
    return steps;
}

} // namespace hr::audition

// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/extent.h"

#include "bench/folding.h"
#include "bench/least_squares.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <vector>

namespace hr::bench {

namespace {

/// Of the flanks beside an extreme: how far they are followed, in turns; and as parts of the swing what is
/// smooth, where they meet, by how much one bow over both has to be worse, and what a corner can have lost.
constexpr double longest_flank = 1.0 / 8;
constexpr std::size_t least_on_a_flank = 12;
constexpr double smooth_part = 0.004;
constexpr double meet_part = 0.003;
constexpr double corner_part = 0.0005;
constexpr double most_rounded_part = 0.05;

/// Values beside an extreme, by how far they are from it in parts of the reach.
using Beside = std::vector<std::pair<double, double>>;

/// A polynomial through them.
struct Flank {
    std::vector<double> terms; // value, slope, and so on
    double off = 0;            // how far the values lie from it, RMS

    double at(double x) const
    {
        double value = 0;
        for (auto term = terms.rbegin(); term != terms.rend(); ++term)
            value = value * x + *term;
        return value;
    }
};

Flank flankThrough(const Beside& values, std::size_t degree)
{
    const std::size_t terms = degree + 1;
    std::vector<double> normal(terms * terms);
    std::vector<double> right(terms);
    std::vector<double> row(terms, 1.0);
    for (const auto& [x, y] : values) {
        for (std::size_t k = 1; k < terms; ++k)
            row[k] = row[k - 1] * x;
        for (std::size_t k = 0; k < terms; ++k) {
            right[k] += row[k] * y;
            for (std::size_t j = 0; j < terms; ++j)
                normal[terms * k + j] += row[k] * row[j];
        }
    }
    Flank flank{solved(normal, right)};
    for (const auto& [x, y] : values)
        flank.off += std::pow(y - flank.at(x), 2) / static_cast<double>(values.size());
    flank.off = std::sqrt(flank.off);
    return flank;
}

/// Whether two flanks follow the values better than one bow over both does: else what looks like a corner is
/// ripple.
bool isCorner(Beside before, const Beside& after, double off, double swing)
{
    before.insert(before.end(), after.begin(), after.end());
    return flankThrough(before, 4).off > 2 * off + corner_part * swing;
}

/// Where one of the parts of a fold is the outermost.
struct Outermost {
    double at_turns = 0, part_turns = 0; ///< its middle, its width
    double level = 0;
    double out = 1; ///< 1 up, -1 down
};

/// Looks and the parts of a fold round a corner. Where both flanks beside an extreme are smooth, they are
/// followed to where they meet: by how much that is beyond what was seen. Zero where they are not, or are too
/// short, or where the extreme is no corner.
double roundedOff(std::span<const double> curve, double turns_a_value, const Outermost& seen, double swing)
{
    const double blind = 1.5 * turns_a_value + 0.5 * seen.part_turns; // pitch is that of two looks
    const double reach = std::max(longest_flank / 3, 3 * blind);
    if (reach > longest_flank)
        return 0;
    Beside before;
    Beside after;
    for (std::size_t i = 0; i < curve.size(); ++i) {
        const double turns = static_cast<double>(i) * turns_a_value - seen.at_turns;
        const double x = (turns - std::round(turns)) / reach;
        if (std::abs(x) > blind / reach && std::abs(x) < 1)
            (x < 0 ? before : after).emplace_back(x, curve[i]);
    }
    if (std::min(before.size(), after.size()) < least_on_a_flank)
        return 0;
    const Flank left = flankThrough(before, 3);
    const Flank right = flankThrough(after, 3);
    const double off = std::max(left.off, right.off);
    if (off > smooth_part * swing || !isCorner(before, after, off, swing))
        return 0;
    double beyond = 0;
    for (int step = -20; step <= 20; ++step) {
        const double x = step / 20.0 * blind / reach;
        if (std::abs(left.at(x) - right.at(x)) < meet_part * swing)
            beyond = std::max(beyond, seen.out * ((left.at(x) + right.at(x)) / 2 - seen.level));
    }
    return std::min(beyond, most_rounded_part * swing);
}

} // namespace

Extent middleOf(std::span<const double> curve, double part)
{
    std::vector<double> sorted(curve.begin(), curve.end());
    std::ranges::sort(sorted);
    const auto cut = static_cast<std::size_t>(part * static_cast<double>(sorted.size()));
    return {sorted[cut], sorted[sorted.size() - 1 - cut]};
}

Extent extentOf(std::span<const double> curve, double curve_rate_hz, std::optional<double> rate_hz)
{
    if (!rate_hz)
        return middleOf(curve, 0.005);
    const Folded fold = folded(curve, curve_rate_hz, *rate_hz);
    Extent swing{std::numeric_limits<double>::infinity(), -std::numeric_limits<double>::infinity()};
    std::size_t lowest = 0;
    std::size_t highest = 0;
    for (std::size_t part = 0; part < fold.sums.size(); ++part)
        if (fold.counts[part] > 0) {
            const double mean = fold.sums[part] / fold.counts[part];
            if (mean < swing.lowest) {
                swing.lowest = mean;
                lowest = part;
            }
            if (mean > swing.highest) {
                swing.highest = mean;
                highest = part;
            }
        }
    const double depth = swing.highest - swing.lowest;
    const auto beyond = [&](std::size_t part, double seen, double out) {
        const double part_turns = 1 / static_cast<double>(fold.sums.size());
        return roundedOff(curve, *rate_hz / curve_rate_hz,
                          {(static_cast<double>(part) + 0.5) * part_turns, part_turns, seen, out}, depth);
    };
    swing.lowest -= beyond(lowest, swing.lowest, -1);
    swing.highest += beyond(highest, swing.highest, 1);
    return swing;
}

} // namespace hr::bench

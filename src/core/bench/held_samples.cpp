// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/held_samples.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>

namespace hr::bench {

namespace {

constexpr std::size_t longest_hold = 4096;
constexpr std::size_t enough_changes = 10;
/// Of a hold of n or n + 1: so many of all have one of the two lengths, the others are values that are alike by
/// chance; and where n is 1, so that chance alone would look like it, all have, and so many at least each.
constexpr double least_regular = 0.9;
constexpr double least_of_each = 0.05;

using Gaps = std::map<std::size_t, std::size_t>; // between changes: how many there are of each length

double meanHold(const Gaps& gaps, double changes)
{
    const std::size_t shorter = gaps.begin()->first;
    const auto count = [&](std::size_t gap) {
        const auto found = gaps.find(gap);
        return found == gaps.end() ? 0.0 : static_cast<double>(found->second);
    };
    const double regular = count(shorter) + count(shorter + 1);
    if (regular < (shorter == 1 ? 1 : least_regular) * changes)
        return 1;
    if (shorter == 1 && std::min(count(1), count(2)) < least_of_each * changes)
        return 1;
    const double typical = static_cast<double>(shorter) + count(shorter + 1) / regular;
    double samples = 0;
    double values = 0;
    for (const auto& [gap, times] : gaps) {
        samples += static_cast<double>(gap * times);
        values += std::round(static_cast<double>(gap) / typical) * static_cast<double>(times);
    }
    return samples / values;
}

} // namespace

double heldSamples(const std::vector<double>& out)
{
    Gaps gaps;
    std::size_t last = 0;
    std::size_t changes = 0;
    for (std::size_t i = 1; i < out.size(); ++i)
        if (out[i] != out[i - 1]) {
            if (++changes > 1)
                ++gaps[i - last];
            last = i;
        }
    if (changes < enough_changes)
        return 1;
    std::size_t common = 0;
    for (const auto& [gap, count] : gaps)
        common = std::gcd(common, gap);
    const double held =
        common > 1 ? static_cast<double>(common) : meanHold(gaps, static_cast<double>(changes - 1));
    return held > longest_hold ? 1 : held;
}

} // namespace hr::bench

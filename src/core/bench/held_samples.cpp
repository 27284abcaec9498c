// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/held_samples.h"

#include <map>
#include <numeric>

namespace hr::bench {

namespace {

constexpr std::size_t longest_hold = 4096;

} // namespace

std::size_t heldSamples(const std::vector<double>& out)
{
    std::map<std::size_t, std::size_t> gaps; // between changes
    std::size_t last = 0;
    std::size_t changes = 0;
    for (std::size_t i = 1; i < out.size(); ++i)
        if (out[i] != out[i - 1]) {
            if (++changes > 1)
                ++gaps[i - last];
            last = i;
        }
    if (changes < 10)
        return 1;
    std::size_t common = 0;
    for (const auto& [gap, count] : gaps)
        common = std::gcd(common, gap);
    return common > longest_hold ? 1 : common;
}

} // namespace hr::bench

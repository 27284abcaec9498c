// SPDX-License-Identifier: GPL-3.0-or-later
//
// What a count of right answers says, where guessing is right every other time: ABX after ITU-R BS.1116-3
// (2015), in words that need no statistics.
#pragma once

#include <optional>
#include <string>
#include <vector>

namespace hr::audition {

/// How often chance alone has at least `correct` of `rounds` right, 0 to 1: the exact one-sided binomial
/// p-value. 0 <= correct <= rounds.
double chanceOfAtLeast(int correct, int rounds);

struct Interval {
    double low = 0, high = 1;
};
/// The share that would be right in the long run: the exact 95 % interval of C. Clopper and E. Pearson,
/// Biometrika 26, 1934.
Interval shareRight(int correct, int rounds);

/// What chance alone does less often than this counts as heard.
inline constexpr double heard_below = 0.05;
/// The smallest count that counts as heard; empty: none of so few rounds can.
std::optional<int> leastToBeHeard(int rounds);

/// The chance of each score from 0 to `rounds` right.
std::vector<double> chanceOfEach(int rounds);

/// "3.8 times in 100", "1.5 times in 100 000", "always".
std::string frequencyInWords(double chance);

/// "12 of 16: chance alone does this well 3.8 times in 100."
std::string verdict(int correct, int rounds);
/// What the scores would mean, said before the first answer.
std::string forecast(int rounds);

} // namespace hr::audition

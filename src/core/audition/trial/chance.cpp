// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/trial/chance.h"

#include "signal/number_text.h"

#include <array>
#include <cstdio>
#include <gsl/gsl_cdf.h>
#include <gsl/gsl_randist.h>

namespace hr::audition {

namespace {

constexpr double outside_each_side = 0.025;

} // namespace

double chanceOfAtLeast(int correct, int rounds)
{
    if (correct <= 0)
        return 1;
    return gsl_cdf_binomial_Q(static_cast<unsigned>(correct - 1), 0.5, static_cast<unsigned>(rounds));
}

Interval shareRight(int correct, int rounds)
{
    Interval interval;
    if (correct > 0)
        interval.low = gsl_cdf_beta_Pinv(outside_each_side, correct, rounds - correct + 1);
    if (correct < rounds)
        interval.high = gsl_cdf_beta_Qinv(outside_each_side, correct + 1, rounds - correct);
    return interval;
}

std::optional<int> leastToBeHeard(int rounds)
{
    for (int correct = 0; correct <= rounds; ++correct)
        if (chanceOfAtLeast(correct, rounds) < heard_below)
            return correct;
    return std::nullopt;
}

std::vector<double> chanceOfEach(int rounds)
{
    std::vector<double> chances;
    for (int correct = 0; correct <= rounds; ++correct)
        chances.push_back(
            gsl_ran_binomial_pdf(static_cast<unsigned>(correct), 0.5, static_cast<unsigned>(rounds)));
    return chances;
}

std::string frequencyInWords(double chance)
{
    if (chance >= 0.9995)
        return "always";
    // Of the smallest round number in which it happens at least once.
    constexpr std::array<std::pair<double, const char*>, 7> bases{{{1e2, "100"},
                                                                   {1e3, "1000"},
                                                                   {1e4, "10 000"},
                                                                   {1e5, "100 000"},
                                                                   {1e6, "a million"},
                                                                   {1e9, "a thousand million"},
                                                                   {1e12, "a million million"}}};
    for (const auto& [base, words] : bases)
        if (const double times = chance * base; times >= 0.995)
            return signal::fixedText(times, times < 9.95 ? 1 : 0) + " times in " + words;
    return "less than once in a million million";
}

std::string verdict(int correct, int rounds)
{
    return std::to_string(correct) + " of " + std::to_string(rounds) + ": chance alone does this well " +
           frequencyInWords(chanceOfAtLeast(correct, rounds)) + ".";
}

std::string forecast(int rounds)
{
    const std::string all = "With " + std::to_string(rounds) + " rounds, ";
    const auto least = leastToBeHeard(rounds);
    if (!least)
        return all + "even all right would happen by chance " +
               frequencyInWords(chanceOfAtLeast(rounds, rounds)) + ": too few to show anything.";
    std::string text = all + std::to_string(*least) + " right would happen by chance " +
                       frequencyInWords(chanceOfAtLeast(*least, rounds));
    if (*least < rounds)
        text += ", and " + std::to_string(*least + 1) + " right " +
                frequencyInWords(chanceOfAtLeast(*least + 1, rounds));
    return text + ". Fewer than " + std::to_string(*least) + " shows nothing either way.";
}

} // namespace hr::audition

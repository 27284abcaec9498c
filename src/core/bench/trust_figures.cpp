// SPDX-License-Identifier: GPL-3.0-or-later
//
// The checks of trust_checks.h that follow from the figures of other tests.
#include "bench/suite.h"
#include "bench/trust_checks.h"

#include <cmath>
#include <map>
#include <sstream>

namespace hr::bench {

namespace {

using hosting::FaultOr;

constexpr double usual_rate_hz = 48000;
/// On top of the error that the figure may have.
constexpr double rate_part = 0.03;

/// What is told to move with the rate, or not to: corners, times, thresholds.
const std::vector<std::pair<std::string, std::string>> rate_figures{{"response", "corner_low_hz"},
                                                                    {"response", "corner_high_hz"},
                                                                    {"transfer", "threshold_db"},
                                                                    {"timing", "attack_ms"},
                                                                    {"timing", "release_ms"},
                                                                    {"echoes", "repeat_ms"},
                                                                    {"decay", "rt60_s"}};

/// Readings of several tests on one subject.
FaultOr<std::map<std::string, Reading>> readings(Subject& subject, const std::vector<std::string>& tests)
{
    std::map<std::string, Reading> found;
    for (const TestInfo& test : allTests()) {
        if (std::ranges::find(tests, test.key) == tests.end())
            continue;
        auto reading = test.run(subject);
        if (!reading)
            return tl::make_unexpected(reading.error());
        found.emplace(test.key, std::move(*reading));
    }
    return found;
}

std::vector<std::string> testsOf(const std::vector<std::pair<std::string, std::string>>& figures)
{
    std::vector<std::string> tests;
    for (const auto& [test, figure] : figures)
        tests.push_back(test);
    return tests;
}

/// Whether a figure that was read is one that should stay where it is. A corner near the end of the band moves
/// with it, and what has a bend in every octave (a room, a comb) has no corner to speak of.
bool canMove(const std::string& figure, const Reading& reading)
{
    const auto value = reading.number(figure);
    if (!value || !figure.starts_with("corner"))
        return value.has_value();
    const auto bends = reading.figures.at("peaks").size() + reading.figures.at("notches").size();
    return *value > 20 && *value < 15000 && bends < 8;
}

} // namespace

std::string fourDigits(double value)
{
    std::ostringstream text;
    text.precision(4);
    text << value;
    return text.str();
}

Checked checkRateIndependent(const Subject& subject)
{
    std::map<double, std::map<std::string, Reading>> by_rate;
    std::vector<std::pair<std::string, std::string>> figures = rate_figures;
    for (const double rate_hz : {usual_rate_hz, 44100.0, 96000.0}) {
        Conditions conditions = subject.conditions();
        conditions.sample_rate_hz = rate_hz;
        auto there = subject.another(subject.values(), conditions);
        if (!there)
            return tl::make_unexpected(there.error());
        auto found = readings(*there, testsOf(figures));
        if (!found)
            return tl::make_unexpected(found.error());
        if (rate_hz == usual_rate_hz) // elsewhere only what it has got here
            std::erase_if(figures, [&](const auto& one) { return !canMove(one.second, found->at(one.first)); });
        by_rate.emplace(rate_hz, std::move(*found));
    }
    CheckResult result{Verdict::NotApplicable, std::nullopt, "it has no corner, time or threshold"};
    double worst = 0;
    std::string moved;
    for (const auto& [test, figure] : figures) {
        const auto usual = by_rate.at(usual_rate_hz).at(test).number(figure);
        const double allowed = rate_part * std::abs(*usual) + figureInfo(test, figure)->allowed.at(*usual);
        for (const double rate_hz : {44100.0, 96000.0}) {
            const auto other = by_rate.at(rate_hz).at(test).number(figure);
            const double off = other ? std::abs(*other - *usual) : 2 * allowed;
            worst = std::max(worst, std::abs(*usual) > 0 ? 100 * off / std::abs(*usual) : 0);
            if (off > allowed)
                moved += (moved.empty() ? "" : "; ") + figureInfo(test, figure)->name + " " +
                         fourDigits(*usual) + " at 48 kHz, " +
                         (other ? fourDigits(*other) : std::string("none")) + " at " +
                         fourDigits(rate_hz / 1000) + " kHz";
        }
        result = {Verdict::Pass, worst, {}};
    }
    if (!moved.empty())
        result = {Verdict::Fail, worst, "it changes with the sample rate: " + moved};
    return result;
}

} // namespace hr::bench

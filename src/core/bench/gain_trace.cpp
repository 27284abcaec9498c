// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/gain_trace.h"

#include "signal/levels.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace hr::bench {

namespace {

/// Near its zeros a sine says nothing about a gain.
constexpr double least_part_of_peak = 0.5;
/// The output follows the waveform where, once settled, the gain is the same all over a cycle.
constexpr double follows_within_db = 0.1;
constexpr double no_gain_db = -200;

double amplitudeAt(const SteppedCycle& tone, std::size_t n)
{
    return signal::dbToLinear(n < tone.latency_frames ? tone.before_dbfs : tone.level_dbfs);
}

double phaseAt(const SteppedCycle& tone, std::size_t n)
{
    return 2 * std::numbers::pi * tone.frequency_hz / tone.sample_rate_hz *
           (static_cast<double>(n) - static_cast<double>(tone.latency_frames));
}

double decibels(double ratio)
{
    return std::max(no_gain_db, signal::linearToDb(std::abs(ratio)));
}

/// Sample against sample, straight on over the zeros; empty where the waveform is not followed.
std::vector<double> fromSamples(std::span<const double> answer, const SteppedCycle& tone)
{
    std::vector<double> gain_db(answer.size(), no_gain_db);
    std::optional<std::size_t> known; // the last that is
    for (std::size_t n = 0; n < answer.size(); ++n) {
        const double sine = std::sin(phaseAt(tone, n));
        if (std::abs(sine) < least_part_of_peak)
            continue;
        gain_db[n] = decibels(answer[n] / (amplitudeAt(tone, n) * sine));
        const std::size_t from = known.value_or(0);
        const double before = known ? gain_db[from] : gain_db[n];
        for (std::size_t i = known ? from + 1 : 0; i < n; ++i)
            gain_db[i] =
                std::lerp(before, gain_db[n], static_cast<double>(i - from) / static_cast<double>(n - from));
        known = n;
    }
    if (!known)
        return {};
    std::fill(gain_db.begin() + static_cast<std::ptrdiff_t>(*known), gain_db.end(), gain_db[*known]);
    const auto cycle =
        std::min(answer.size(), static_cast<std::size_t>(2 * tone.sample_rate_hz / tone.frequency_hz));
    const auto [low, high] = std::ranges::minmax(std::span<const double>(gain_db).last(cycle));
    return high - low < follows_within_db ? gain_db : std::vector<double>();
}

/// Of the part at the tone's frequency, in a cycle around each sample.
std::vector<double> fromCycles(std::span<const double> answer, const SteppedCycle& tone)
{
    const auto cycle = static_cast<std::size_t>(std::lround(tone.sample_rate_hz / tone.frequency_hz));
    std::vector<double> in_phase(answer.size() + 1);
    std::vector<double> quadrature(answer.size() + 1);
    for (std::size_t n = 0; n < answer.size(); ++n) {
        // Against its input, so that a cycle across the step has one gain.
        in_phase[n + 1] = in_phase[n] + answer[n] / amplitudeAt(tone, n) * std::sin(phaseAt(tone, n));
        quadrature[n + 1] = quadrature[n] + answer[n] / amplitudeAt(tone, n) * std::cos(phaseAt(tone, n));
    }
    std::vector<double> gain_db(answer.size(), no_gain_db);
    for (std::size_t n = 0; n < answer.size(); ++n) {
        const std::size_t first =
            std::min(n - std::min(n, cycle / 2), answer.size() - std::min(cycle, answer.size()));
        const std::size_t last = std::min(answer.size(), first + cycle);
        gain_db[n] =
            decibels(2 * std::hypot(in_phase[last] - in_phase[first], quadrature[last] - quadrature[first]) /
                     static_cast<double>(cycle));
    }
    return gain_db;
}

/// Done parts of the change: 0 before, 1 after.
double done(double gain_db, const GainChange& change)
{
    return (gain_db - change.from_db) / (change.to_db - change.from_db);
}

} // namespace

std::vector<double> gainTrace(std::span<const double> answer, const SteppedCycle& tone)
{
    if (answer.empty())
        return {};
    auto gain_db = fromSamples(answer, tone);
    return gain_db.empty() ? fromCycles(answer, tone) : gain_db;
}

std::optional<double> timeOf(std::span<const double> gain_db, const GainChange& change, double share,
                             double sample_rate_hz)
{
    const auto reached = std::ranges::find_if(gain_db, [&](double g) { return done(g, change) >= share; });
    if (reached == gain_db.end())
        return std::nullopt;
    return static_cast<double>(reached - gain_db.begin()) / sample_rate_hz;
}

std::optional<double> standstillOf(std::span<const double> gain_db, const GainChange& change,
                                   double sample_rate_hz)
{
    const auto at = [&](double share) { return timeOf(gain_db, change, share, sample_rate_hz); };
    const auto first = at(0.01);
    const auto early = at(0.05);
    const auto later = at(0.1);
    if (!first || !early || !later)
        return std::nullopt;
    // Of an exponential the first tenth takes 0.105 time constants, its first half 0.051.
    const double begins = *early - (*later - *early) * 0.0513 / 0.0541;
    // What is extrapolated is known to a sample or two, and to a part of what it comes from.
    const double not_sooner = begins - std::max(0.15 * (*later - *early), 2 / sample_rate_hz);
    return *first >= not_sooner && begins > 0 ? std::optional(begins) : std::nullopt;
}

} // namespace hr::bench

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
/// A filter rings no longer than this; then the gain has not come far yet.
constexpr double longest_ringing_s = 0.02;
constexpr double rests_within = 0.3; // parts of the change, as are
constexpr double least_ringing = 0.05;
constexpr double most_ringing = 4;
/// A beginning is told from so long a part of the change, and by all of them alike.
constexpr double long_enough_s = 0.002;
constexpr double agrees_within = 0.3;

double amplitudeAt(const SteppedCycle& tone, std::size_t n)
{
    return signal::dbToLinear(n < tone.latency_frames ? tone.before_dbfs : tone.level_dbfs);
}

double phaseAt(const SteppedCycle& tone, std::size_t n)
{
    return 2 * std::numbers::pi * tone.frequency_hz / tone.sample_rate_hz *
           (static_cast<double>(n) - static_cast<double>(tone.latency_frames));
}

/// To the nearest sample; of less than four no sine can be told.
std::size_t cycleFrames(const SteppedCycle& tone)
{
    return std::max<std::size_t>(
        4, static_cast<std::size_t>(std::lround(tone.sample_rate_hz / tone.frequency_hz)));
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

/// Running sums of products of two sequences, to be taken over any window.
class Sums {
public:
    explicit Sums(std::size_t size) { m_sums.reserve(size + 1); }
    void add(double value) { m_sums.push_back(m_sums.back() + value); }
    double over(std::size_t first, std::size_t last) const { return m_sums[last] - m_sums[first]; }

private:
    std::vector<double> m_sums{0};
};

/// Of the sine that fits best, in a cycle around each sample, whether or not a cycle is whole in samples.
std::vector<double> fromCycles(std::span<const double> answer, const SteppedCycle& tone)
{
    const std::size_t cycle = cycleFrames(tone);
    Sums sine_sine(answer.size());
    Sums sine_cosine(answer.size());
    Sums answer_sine(answer.size());
    Sums answer_cosine(answer.size());
    for (std::size_t n = 0; n < answer.size(); ++n) {
        const double sine = std::sin(phaseAt(tone, n));
        const double cosine = std::cos(phaseAt(tone, n));
        const double ratio = answer[n] / amplitudeAt(tone, n); // so that a cycle across the step has one gain
        sine_sine.add(sine * sine);
        sine_cosine.add(sine * cosine);
        answer_sine.add(ratio * sine);
        answer_cosine.add(ratio * cosine);
    }
    std::vector<double> gain_db(answer.size(), no_gain_db);
    for (std::size_t n = 0; n < answer.size(); ++n) {
        const std::size_t first =
            std::min(n - std::min(n, cycle / 2), answer.size() - std::min(cycle, answer.size()));
        const std::size_t last = std::min(answer.size(), first + cycle);
        const double ss = sine_sine.over(first, last);
        const double sc = sine_cosine.over(first, last);
        const double cc = static_cast<double>(last - first) - ss;
        const double as = answer_sine.over(first, last);
        const double ac = answer_cosine.over(first, last);
        const double determinant = ss * cc - sc * sc;
        if (determinant > 0)
            gain_db[n] = decibels(std::hypot(as * cc - ac * sc, ac * ss - as * sc) / determinant);
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

std::vector<double> withoutRinging(std::vector<double> gain_db, const GainChange& change,
                                   const SteppedCycle& tone)
{
    const auto window = static_cast<std::size_t>(longest_ringing_s * tone.sample_rate_hz);
    // A cycle around a frame reaches beyond the step.
    const std::size_t arrives = tone.latency_frames - std::min(tone.latency_frames, cycleFrames(tone));
    if (gain_db.size() < arrives + 2 * window)
        return gain_db;
    const auto doneAt = [&](std::size_t n) { return done(gain_db[n], change); };
    const auto [least, most] = std::ranges::minmax(std::span<const double>(gain_db).last(window), {},
                                                   [&](double g) { return done(g, change); });
    const double ripple = done(most, change) - done(least, change); // of the settled gain, within a cycle
    // The last frame that is beyond a later one, or beyond where the gain came from.
    const auto ringsUntil = [&](double by) {
        double lowest = 1e9;
        std::size_t until = arrives;
        for (std::size_t n = arrives + window; n-- > arrives && until == arrives;) {
            if (doneAt(n) > lowest + by || doneAt(n) < -by)
                until = n + 1;
            lowest = std::min(lowest, doneAt(n));
        }
        return until;
    };
    for (double by = std::max(least_ringing, 2 * ripple); by < most_ringing; by *= 2) {
        const std::size_t until = ringsUntil(by);
        if (doneAt(until) > rests_within)
            continue; // it moves on while it still rings: what is left of that is smaller
        const double from_db = change.from_db;
        for (std::size_t n = arrives; n < until; ++n)
            gain_db[n] = std::lerp(from_db, gain_db[until],
                                   static_cast<double>(n - arrives) / static_cast<double>(until - arrives));
        break;
    }
    return gain_db;
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
    if (!first)
        return std::nullopt;
    // From a small part of the change and twice that, back to none of it, as an exponential goes.
    const auto beginsFrom = [&](double share) -> std::optional<std::pair<double, double>> {
        const auto early = at(share);
        const auto later = at(2 * share);
        if (!early || !later)
            return std::nullopt;
        const double taken = std::log1p(-share) / (std::log1p(-2 * share) - std::log1p(-share));
        return std::pair(*early - (*later - *early) * taken, *later - *early);
    };
    const auto from_afar = beginsFrom(0.05);
    if (!from_afar)
        return std::nullopt;
    // What is extrapolated is known to a sample or two, and to a part of what it comes from.
    if (*first < from_afar->first - std::max(0.15 * from_afar->second, 2 / sample_rate_hz))
        return std::nullopt;
    // A slow change is looked at nearer to its beginning: what gathers speed begins earlier than it seemed.
    auto begins = from_afar;
    for (double share = 0.025; begins->second > long_enough_s && share > 0.0015; share /= 2)
        if (const auto nearer = beginsFrom(share))
            begins = nearer;
    const bool agree = std::abs(begins->first - from_afar->first) <= agrees_within * from_afar->first;
    return agree && begins->first > 0 ? std::optional(begins->first) : std::nullopt;
}

} // namespace hr::bench

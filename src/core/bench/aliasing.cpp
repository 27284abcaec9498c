// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/aliasing.h"

#include "bench/magnitude.h"
#include "bench/steady_tone.h"
#include "signal/levels.h"

#include <algorithm>
#include <cmath>

namespace hr::bench {

namespace {

using hosting::FaultOr;

constexpr double alias_tone_dbfs = -12;
constexpr double alias_window_s = 0.35;
constexpr double longest_tone_s = 12;
constexpr double long_settling_s = 1;
constexpr double lowest_tone_hz = 2500;
constexpr double highest_tone_share = 0.42; // of the sample rate
constexpr int tones_per_octave = 4;
constexpr std::size_t highest_harmonic = 60;
/// An alias stands out of what is around it by this,
constexpr double stands_out_db = 15;
/// and is no rounding of 32-bit numbers.
constexpr double rounding_db = -135;

struct Alias {
    double level_db = signal::no_level_db; // against the fundamental
    double tone_hz = 0, alias_hz = 0;
};

/// The bin on which the n-th harmonic comes to lie.
std::size_t foldedBin(const Tone& tone, std::size_t n)
{
    const std::size_t bin = n * tone.cycles % tone.window_frames;
    return std::min(bin, tone.window_frames - bin);
}

/// The median of the powers around a bin, without it.
double around(const std::vector<double>& power, std::size_t bin)
{
    constexpr std::size_t reach = 12;
    std::vector<double> near;
    for (std::size_t k = bin - std::min(bin, reach); k <= std::min(bin + reach, power.size() - 1); ++k)
        if (k != bin)
            near.push_back(power[k]);
    const auto middle = near.begin() + static_cast<std::ptrdiff_t>(near.size() / 2);
    std::ranges::nth_element(near, middle);
    return *middle;
}

std::vector<double> differenceOf(std::vector<double> one, const std::vector<double>& other)
{
    for (std::size_t i = 0; i < one.size(); ++i)
        one[i] -= other[i];
    return one;
}

/// The strongest folded harmonic; empty where the tone itself did not come through.
std::optional<Alias> strongestAlias(const SettledWindow& window, const Tone& tone)
{
    constexpr double steady_share = 0.1; // what still dies away, or moves, is no alias
    const auto power = powerSpectrum(window.samples);
    const auto change = powerSpectrum(differenceOf(window.samples, window.before));
    const double fundamental = power[tone.cycles];
    if (signal::powerToDb(2 * fundamental) < no_tone_dbfs)
        return std::nullopt;
    Alias strongest{signal::no_level_db, tone.frequencyHz(), 0};
    for (std::size_t n = 2; n <= highest_harmonic; ++n) {
        if (n * tone.cycles < tone.window_frames / 2)
            continue; // where it belongs
        const std::size_t bin = foldedBin(tone, n);
        const double level_db = signal::powerToDb(power[bin] / fundamental);
        if (bin > 0 && change[bin] < steady_share * power[bin] &&
            level_db > std::max(strongest.level_db, rounding_db) &&
            signal::powerToDb(power[bin]) > signal::powerToDb(around(power, bin)) + stands_out_db)
            strongest = {level_db, tone.frequencyHz(),
                         static_cast<double>(bin) * tone.rate_hz / static_cast<double>(tone.window_frames)};
    }
    return strongest;
}

std::vector<double> tonesFor(const Conditions& conditions)
{
    if (conditions.frequency_hz)
        return {*conditions.frequency_hz};
    const double highest_hz = highest_tone_share * conditions.sample_rate_hz;
    return logarithmicGrid(std::min(lowest_tone_hz, highest_hz / 2), highest_hz, tones_per_octave);
}

} // namespace

const std::vector<FigureInfo>& aliasingFigures()
{
    const std::string there = "where a folded harmonic stands out of the noise";
    static const std::vector<FigureInfo> figures{
        {.key = "worst_alias_db",
         .name = "worst alias",
         .unit = "dB",
         .digits = 1,
         .better = Better::Lower,
         .allowed = {0.1, 0},
         .definition = "the strongest harmonic folded at half the sample rate, against the fundamental",
         .applies = there,
         .in_lists = true},
        {.key = "frequency_hz",
         .name = "tone with the worst alias",
         .unit = "Hz",
         .digits = 0,
         .allowed = {0, 0.01},
         .definition = "frequency of the tone that made it",
         .applies = there},
        {.key = "alias_hz",
         .name = "frequency of the worst alias",
         .unit = "Hz",
         .digits = 0,
         .allowed = {0, 0.01},
         .definition = "where the folded harmonic came to lie",
         .applies = there}};
    return figures;
}

FaultOr<Reading> measureAliasing(Subject& subject)
{
    const double rate_hz = subject.conditions().sample_rate_hz;
    const double level_dbfs = subject.conditions().level_dbfs.value_or(alias_tone_dbfs);
    const auto settling_s = settlingS(subject, lowest_tone_hz, level_dbfs);
    if (!settling_s)
        return tl::make_unexpected(settling_s.error());
    if (auto started = subject.restart(); !started)
        return tl::make_unexpected(started.error());

    Reading reading;
    reading.conditions = {{"level_dbfs", level_dbfs}};
    Curve& over_frequency = reading.series["alias_over_frequency"] = {"frequency_hz", "alias_db", {}};
    std::optional<Alias> worst;
    for (const double asked_hz : tonesFor(subject.conditions())) {
        if (*settling_s > long_settling_s) // the tone before rings on for longer than is waited
            if (auto started = subject.restart(); !started)
                return tl::make_unexpected(started.error());
        const Tone tone = coherentTone(asked_hz, level_dbfs, alias_window_s, rate_hz);
        auto window = settledWindow(subject, tone, {*settling_s, longest_tone_s});
        if (!window)
            return tl::make_unexpected(window.error());
        const auto alias = strongestAlias(*window, tone);
        if (!alias)
            continue;
        if (std::isfinite(alias->level_db))
            over_frequency.points.emplace_back(alias->tone_hz, alias->level_db);
        if (!worst || alias->level_db > worst->level_db)
            worst = alias;
    }
    const bool found = worst && std::isfinite(worst->level_db);
    const std::string why =
        worst ? "no folded harmonic stands out of the noise" : "the tones did not come through";
    reading.put("worst_alias_db", found ? std::optional(worst->level_db) : std::nullopt, why);
    reading.put("frequency_hz", found ? std::optional(worst->tone_hz) : std::nullopt, why);
    reading.put("alias_hz", found ? std::optional(worst->alias_hz) : std::nullopt, why);
    return reading;
}

} // namespace hr::bench

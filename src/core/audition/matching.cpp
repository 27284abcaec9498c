// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/matching.h"

#include "audition/loop_run.h"
#include "signal/levels.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace hr::audition {

namespace {

constexpr double least_measured_s = 3.0; // short loops are measured over several repetitions
constexpr double settled_within_lu = 0.02;
constexpr std::size_t most_repetitions = 5;
constexpr double long_from_s = 60;
constexpr double long_settling_s = 10;
constexpr double long_repeated_s = 30;

std::size_t framesOf(const Source& source, double seconds)
{
    return static_cast<std::size_t>(seconds * source.rateHz());
}

std::size_t measuredFrames(const Source& source, const Section& loop)
{
    return loop.frames * ((framesOf(source, least_measured_s) + loop.frames - 1) / loop.frames);
}

auto into(LoopMeter& meter)
{
    return
        [&meter](const float* left, const float* right, std::size_t count) { meter.add(left, right, count); };
}

/// So many frames to settle, and what the latency, which many know only once they have run, brings late.
hosting::FaultOr<void> settle(LoopRun& rounds, std::size_t frames)
{
    if (auto ran = rounds.pass(frames); !ran)
        return ran;
    return rounds.pass(rounds.latencySamples());
}

double spread(std::span<const LoopLevels> repetitions)
{
    double lowest = 1e9;
    double highest = -1e9;
    for (const LoopLevels& one : repetitions)
        if (one.loudness_lufs) {
            lowest = std::min(lowest, *one.loudness_lufs);
            highest = std::max(highest, *one.loudness_lufs);
        }
    return std::max(0.0, highest - lowest);
}

/// Powers are averaged, of peaks the highest counts.
LoopLevels together(std::span<const LoopLevels> repetitions)
{
    const auto mean = [repetitions](std::optional<double> LoopLevels::*level) -> std::optional<double> {
        double power = 0;
        for (const LoopLevels& one : repetitions)
            power += one.*level ? signal::dbToPower(*(one.*level)) : 0;
        if (power == 0)
            return std::nullopt;
        return signal::powerToDb(power / static_cast<double>(repetitions.size()));
    };
    LoopLevels all{mean(&LoopLevels::loudness_lufs), mean(&LoopLevels::band_lufs), mean(&LoopLevels::rms_dbfs),
                   std::nullopt};
    for (const LoopLevels& one : repetitions)
        if (one.true_peak_dbtp)
            all.true_peak_dbtp =
                std::max(all.true_peak_dbtp.value_or(*one.true_peak_dbtp), *one.true_peak_dbtp);
    return all;
}

hosting::FaultOr<LoopLoudness> untilSettled(const Source& source, const Section& loop, LoopRun rounds,
                                            const MatchRule& rule)
{
    const std::size_t frames = measuredFrames(source, loop);
    if (auto settled = settle(rounds, frames); !settled)
        return tl::make_unexpected(settled.error());
    std::vector<LoopLevels> repetitions;
    while (repetitions.size() < most_repetitions) {
        LoopMeter meter(source.rateHz(), rule);
        if (auto ran = rounds.pass(frames, into(meter)); !ran)
            return tl::make_unexpected(ran.error());
        repetitions.push_back(meter.read());
        if (repetitions.size() < 2)
            continue;
        const auto last_two = std::span<const LoopLevels>(repetitions).last(2);
        if (spread(last_two) <= settled_within_lu)
            return LoopLoudness{together(last_two), spread(last_two)};
    }
    return LoopLoudness{together(repetitions), spread(repetitions)};
}

hosting::FaultOr<LoopLoudness> onceThrough(const Source& source, const Section& loop, LoopRun rounds,
                                           const MatchRule& rule)
{
    const std::size_t settling = framesOf(source, long_settling_s);
    const std::size_t repeated = framesOf(source, long_repeated_s);
    LoopMeter whole(source.rateHz(), rule);
    LoopMeter again(source.rateHz(), rule);
    if (auto settled = settle(rounds, settling); !settled)
        return tl::make_unexpected(settled.error());
    if (auto ran = rounds.pass(repeated, into(whole)); !ran)
        return tl::make_unexpected(ran.error());
    const LoopLevels beginning = whole.read();
    if (auto ran = rounds.pass(loop.frames - repeated, into(whole)); !ran)
        return tl::make_unexpected(ran.error());
    if (auto ran = rounds.pass(repeated, into(again)); !ran)
        return tl::make_unexpected(ran.error());
    return LoopLoudness{whole.read(), spread(std::array{beginning, again.read()})};
}

} // namespace

LoopLoudness measureLoop(const Source& source, const Section& loop, const MatchRule& rule,
                         const std::stop_token& cancel)
{
    LoopMeter meter(source.rateHz(), rule);
    std::vector<float> left(hosting::stretch_frames);
    std::vector<float> right(hosting::stretch_frames);
    const std::size_t total = measuredFrames(source, loop);
    for (std::size_t at = 0; at < total && !cancel.stop_requested(); at += left.size()) {
        const std::size_t count = std::min(left.size(), total - at);
        source.read(loop, at, left.data(), right.data(), count);
        meter.add(left.data(), right.data(), count);
    }
    return {meter.read(), 0};
}

hosting::FaultOr<LoopLoudness> measureLoop(const Source& source, const Section& loop,
                                           const Treatment& treatment, const MatchRule& rule,
                                           const std::stop_token& cancel)
{
    if (treatment.location.id.empty())
        return measureLoop(source, loop, rule, cancel);
    auto processor = LoopRun::open(
        source, treatment, treatment.mix.isWetAlone() ? LoopRun::Latency::AsReported : LoopRun::Latency::Found,
        cancel);
    if (!processor)
        return tl::make_unexpected(processor.error());
    if (loop.frames > framesOf(source, long_from_s))
        return onceThrough(source, loop,
                           LoopRun(source, loop, *processor, loop.frames - framesOf(source, long_settling_s)),
                           rule);
    return untilSettled(source, loop, LoopRun(source, loop, *processor, 0), rule);
}

std::vector<double> matchingGainsDb(const std::vector<std::optional<double>>& levels_db)
{
    std::optional<double> lowest;
    for (const auto& level : levels_db)
        if (level)
            lowest = std::min(lowest.value_or(*level), *level);
    std::vector<double> gains;
    for (const auto& level : levels_db)
        gains.push_back(level ? *lowest - *level : 0.0);
    return gains;
}

} // namespace hr::audition

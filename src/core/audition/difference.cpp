// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/difference.h"

#include "audition/alignment.h"
#include "audition/loop_run.h"
#include "signal/k_weighting.h"
#include "signal/levels.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace hr::audition {

namespace {

constexpr double longest_s = 20;
constexpr double settling_s = 3;
constexpr double edge_s = 0.02; // faded where the section does not join up

/// The beginning of the section as it sounds once it has gone round.
hosting::FaultOr<signal::AudioBuffer> settled(const Source& source, const Section& loop, std::size_t frames,
                                              const Treatment& treatment, const std::stop_token& cancel)
{
    signal::AudioBuffer out(2, frames, source.rateHz());
    if (treatment.location.id.empty()) {
        source.read(loop, 0, out.channel(0).data(), out.channel(1).data(), frames);
        return out;
    }
    auto processor = LoopRun::open(source, treatment, LoopRun::Latency::Found, cancel);
    if (!processor)
        return tl::make_unexpected(processor.error());
    const auto least = static_cast<std::size_t>(settling_s * source.rateHz());
    const std::size_t before = std::max(loop.frames, least) / loop.frames * loop.frames;
    const std::size_t settling = std::min(before, std::max(frames, least));
    LoopRun rounds(source, loop, *processor, before - settling); // so that it ends where the section begins
    if (auto ran = rounds.pass(settling); !ran)
        return tl::make_unexpected(ran.error());
    if (auto ran = rounds.pass(rounds.latencySamples()); !ran)
        return tl::make_unexpected(ran.error());
    auto left = out.channel(0).begin();
    auto right = out.channel(1).begin();
    const auto keep = [&](const float* from_left, const float* from_right, std::size_t count) {
        left = std::copy_n(from_left, count, left);
        right = std::copy_n(from_right, count, right);
    };
    if (auto ran = rounds.pass(frames, keep); !ran)
        return tl::make_unexpected(ran.error());
    return out;
}

void fadeEdges(signal::AudioBuffer& sound)
{
    const auto edge = std::min(static_cast<std::size_t>(edge_s * sound.sampleRateHz()), sound.frames() / 2);
    for (std::size_t c = 0; c < sound.channels(); ++c)
        for (std::size_t i = 0; i < edge; ++i) {
            const double part = (static_cast<double>(i) + 0.5) / static_cast<double>(edge);
            const auto gain = static_cast<float>(0.5 - 0.5 * std::cos(std::numbers::pi * part));
            sound.channel(c)[i] *= gain;
            sound.channel(c)[sound.frames() - 1 - i] *= gain;
        }
}

/// Power of the K-weighting at each bin.
std::vector<double> loudBins(std::size_t frames, double rate_hz)
{
    const signal::KWeighting weighting(rate_hz);
    std::vector<double> bins(frames / 2 + 1);
    for (std::size_t k = 0; k < bins.size(); ++k)
        bins[k] = weighting.power(rate_hz * static_cast<double>(k) / static_cast<double>(frames));
    return bins;
}

} // namespace

std::optional<double> Difference::levelDb(double gain_db) const
{
    const double gain = signal::dbToLinear(gain_db);
    const double left = 1 + gain * (gain * power_ratio - 2 * common);
    // What is below is the rounding of single-precision samples.
    return left > 1e-14 ? std::optional(signal::powerToDb(left)) : std::nullopt;
}

hosting::FaultOr<std::optional<Difference>> differenceOf(const Source& source, const Section& loop,
                                                         const Treatment& reference, const Treatment& contender,
                                                         const std::stop_token& cancel)
{
    const auto longest = static_cast<std::size_t>(longest_s * source.rateHz());
    const std::size_t frames = std::min(loop.frames, longest);
    auto first = settled(source, loop, frames, reference, cancel);
    if (!first)
        return tl::make_unexpected(first.error());
    auto second = settled(source, loop, frames, contender, cancel);
    if (!second)
        return tl::make_unexpected(second.error());
    if (frames < loop.frames)
        for (auto* sound : {&*first, &*second})
            fadeEdges(*sound);
    const auto a = spectraOf(*first);
    auto b = spectraOf(*second);
    const double of_reference = power(a, frames);
    if (of_reference == 0)
        return std::nullopt;
    Difference difference;
    difference.power_ratio = power(b, frames) / of_reference;
    if (difference.power_ratio == 0)
        return difference;
    const std::vector<double> loud = loudBins(frames, source.rateHz());
    const double loud_reference =
        total(a, frames, [&](std::size_t c, std::size_t k) { return loud[k] * std::norm(a[c][k]); });
    difference.loud_ratio =
        total(b, frames, [&](std::size_t c, std::size_t k) { return loud[k] * std::norm(b[c][k]); }) /
        loud_reference;
    difference.loud_common =
        total(a, frames,
              [&](std::size_t c, std::size_t k) { return loud[k] * (std::conj(a[c][k]) * b[c][k]).real(); }) /
        loud_reference;
    difference.offset_samples = offsetOf(a, b, frames, most_offset_samples);
    b = advanced(b, difference.offset_samples, frames);
    difference.common =
        total(a, frames, [&](std::size_t c, std::size_t k) { return (std::conj(a[c][k]) * b[c][k]).real(); }) /
        of_reference;
    return difference;
}

} // namespace hr::audition

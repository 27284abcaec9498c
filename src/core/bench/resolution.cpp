// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/resolution.h"

#include "bench/held_samples.h"
#include "signal/generators.h"

#include <algorithm>
#include <cmath>

namespace hr::bench {

namespace {

using hosting::FaultOr;

constexpr double settles_s = 0.5;
constexpr double noise_s = 0.5;
constexpr double ramp_s = 4;
/// Ends of the ramps: the finer one still moves by a hundredth of a step of 24 bits from sample to sample.
constexpr double whole_range = 1;
constexpr double fine_range = 1.0 / 8192;
/// A level is a plateau where this many samples on the average lie on it.
constexpr double least_on_a_level = 4;
constexpr std::size_t least_levels = 3;
/// Steps that differ by more than this, between the quartiles, are not of one size.
constexpr double uneven_ratio = 1.5;

struct OutputSteps {
    std::optional<double> size;
    bool uneven = false;
};

/// Differences of neighbouring output levels, where the output stands still between them.
OutputSteps stepsOf(const std::vector<double>& out, double held)
{
    std::vector<double> levels;
    for (std::size_t i = 0; i < out.size(); i += static_cast<std::size_t>(std::ceil(held))) // no value twice
        levels.push_back(out[i]);
    const auto samples = static_cast<double>(levels.size());
    std::ranges::sort(levels);
    levels.erase(std::unique(levels.begin(), levels.end()), levels.end());
    if (levels.size() < least_levels || samples < least_on_a_level * static_cast<double>(levels.size()))
        return {};
    std::vector<double> steps;
    for (std::size_t i = 1; i < levels.size(); ++i)
        steps.push_back(levels[i] - levels[i - 1]);
    std::ranges::sort(steps);
    const double quarter = steps[steps.size() / 4];
    const double three_quarters = steps[steps.size() * 3 / 4];
    return {steps[steps.size() / 2], three_quarters > uneven_ratio * quarter};
}

FaultOr<std::vector<double>> answerTo(Subject& subject, const std::vector<double>& stimulus)
{
    auto out = subject.process(stimulus);
    if (!out)
        return tl::make_unexpected(out.error());
    return asDoubles(std::as_const(*out).channel(0));
}

/// From -range to range and back, after silence.
std::vector<double> ramp(double range, double rate_hz)
{
    const auto half = static_cast<std::size_t>(ramp_s / 2 * rate_hz);
    std::vector<double> samples(2 * half);
    for (std::size_t i = 0; i < samples.size(); ++i) {
        const auto up = static_cast<double>(i < half ? i : 2 * half - i);
        samples[i] = range * (2 * up / static_cast<double>(half) - 1);
    }
    return samples;
}

constexpr double drawn_steps = 8; // around zero
constexpr double drawn_lsb = 4;   // where there are none
constexpr std::size_t most_drawn = 400;

/// The way up through zero, in steps of 16 bits.
Curve aroundZero(const std::vector<double>& out, const std::vector<double>& in, double width,
                 std::size_t latency)
{
    constexpr double lsb = 1.0 / 32768;
    const std::size_t half = in.size() / 2; // the way up
    const auto frames = std::min(half, static_cast<std::size_t>(width / (in[1] - in[0])));
    const std::size_t every = std::max<std::size_t>(1, frames / most_drawn);
    Curve curve{"input_lsb", "output_lsb", {}};
    for (std::size_t i = (half - frames) / 2; i < (half + frames) / 2 && i + latency < out.size(); i += every)
        curve.points.emplace_back(in[i] / lsb, out[i + latency] / lsb);
    return curve;
}

} // namespace

const std::vector<FigureInfo>& resolutionFigures()
{
    static const std::vector<FigureInfo> figures{{.key = "effective_bits",
                                                  .name = "effective resolution",
                                                  .unit = "bit",
                                                  .digits = 2,
                                                  .better = Better::Higher,
                                                  .allowed = {0.2, 0},
                                                  .definition = "log2 of 2 over the step between output levels",
                                                  .applies = "where the output moves in steps"},
                                                 {.key = "held_samples",
                                                  .name = "each value held for",
                                                  .unit = "samples",
                                                  .digits = 2,
                                                  .better = Better::Lower,
                                                  .definition =
                                                      "how many samples each value is held for; the mean "
                                                      "where the rate is not divided evenly",
                                                  .applies = "where values are held"}};
    return figures;
}

FaultOr<Reading> measureResolution(Subject& subject)
{
    const double rate_hz = subject.conditions().sample_rate_hz;
    if (auto started = subject.restart(); !started)
        return tl::make_unexpected(started.error());
    if (auto idle = subject.process(std::vector<double>(static_cast<std::size_t>(settles_s * rate_hz))); !idle)
        return tl::make_unexpected(idle.error());

    Reading reading;
    auto noise =
        answerTo(subject, signal::gaussianNoise(0.25, static_cast<std::size_t>(noise_s * rate_hz), 31));
    if (!noise)
        return tl::make_unexpected(noise.error());
    const double held = heldSamples(*noise);
    reading.put("held_samples", held > 1 ? std::optional(held) : std::nullopt,
                "the output may change at every sample");

    OutputSteps steps;
    for (const double range : {whole_range, fine_range}) {
        const auto in = ramp(range, rate_hz);
        auto out = answerTo(subject, in);
        if (!out)
            return tl::make_unexpected(out.error());
        steps = stepsOf(*out, held);
        const double width = steps.size ? drawn_steps * *steps.size : drawn_lsb / 32768;
        reading.series["steps"] = aroundZero(*out, in, width, subject.latencyReportedSamples());
        if (steps.size)
            break;
    }
    reading.put("effective_bits", steps.size ? std::optional(std::log2(2 / *steps.size)) : std::nullopt,
                "no steps are seen: it is finer than 24 bits, filtered, or noisy");
    if (steps.uneven)
        reading.flags.push_back(
            {"uneven-steps", "its steps are not of one size: the median is given", {"effective_bits"}});
    return reading;
}

} // namespace hr::bench

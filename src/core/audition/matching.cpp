// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/matching.h"

#include "signal/loudness.h"

#include <algorithm>
#include <cmath>

namespace hr::audition {

namespace {

constexpr double least_measured_s = 3.0; // short loops are measured over several repetitions

std::size_t measuredFrames(const Source& source, const Section& loop)
{
    const auto least = static_cast<std::size_t>(least_measured_s * source.rateHz());
    return loop.frames * ((least + loop.frames - 1) / loop.frames);
}

} // namespace

LoopLoudness measureLoop(const Source& source, const Section& loop, const std::stop_token& cancel)
{
    signal::StereoMeter meter(source.rateHz(), signal::Figures::IntegratedAndPeak);
    std::vector<float> left(hosting::stretch_frames);
    std::vector<float> right(hosting::stretch_frames);
    const std::size_t total = measuredFrames(source, loop);
    for (std::size_t at = 0; at < total && !cancel.stop_requested(); at += left.size()) {
        const std::size_t count = std::min(left.size(), total - at);
        source.read(loop, at, left.data(), right.data(), count);
        meter.add(left.data(), right.data(), count);
    }
    const auto reading = meter.read();
    return {reading.integrated_lufs, 0, reading.true_peak_dbtp};
}

hosting::FaultOr<LoopLoudness> measureLoop(const Source& source, const Section& loop,
                                           const hosting::Location& location, std::span<const double> values,
                                           const std::stop_token& cancel)
{
    auto opened = hosting::openInstance(location, {.channels = hosting::Channels::Stereo, .cancel = cancel});
    if (!opened)
        return tl::make_unexpected(opened.error());
    const auto& stage = *opened;
    if (auto started = stage->start({source.rateHz(), 256}, values); !started)
        return tl::make_unexpected(started.error());
    std::vector<float> left(hosting::stretch_frames);
    std::vector<float> right(hosting::stretch_frames);
    std::vector<float> out_left(hosting::stretch_frames);
    std::vector<float> out_right(hosting::stretch_frames);
    std::size_t at = 0;
    const auto run = [&](std::size_t frames, signal::StereoMeter* meter) -> hosting::FaultOr<void> {
        for (std::size_t done = 0; done < frames; done += left.size()) {
            const std::size_t count = std::min(left.size(), frames - done);
            source.read(loop, at, left.data(), right.data(), count);
            at += count;
            if (auto ran =
                    stage->processStereo(left.data(), right.data(), out_left.data(), out_right.data(), count);
                !ran)
                return tl::make_unexpected(ran.error());
            if (meter)
                meter->add(out_left.data(), out_right.data(), count);
        }
        return {};
    };
    const std::size_t frames = measuredFrames(source, loop);
    signal::StereoMeter first(source.rateHz(), signal::Figures::IntegratedAndPeak);
    signal::StereoMeter second(source.rateHz(), signal::Figures::IntegratedAndPeak);
    if (auto settled = run(frames, nullptr); !settled)
        return tl::make_unexpected(settled.error());
    // The output of this repetition comes out later by the latency: it is let pass first.
    const std::size_t latency = stage->latencySamples();
    for (auto [count, meter] :
         {std::pair(latency, static_cast<signal::StereoMeter*>(nullptr)), {frames, &first}, {frames, &second}})
        if (auto ran = run(count, meter); !ran)
            return tl::make_unexpected(ran.error());
    const auto one = first.read();
    const auto other = second.read();
    LoopLoudness reading{one.integrated_lufs, 0, one.true_peak_dbtp};
    if (one.integrated_lufs && other.integrated_lufs)
        reading.spread_lu = std::abs(*one.integrated_lufs - *other.integrated_lufs);
    return reading;
}

std::vector<double> matchingGainsDb(const std::vector<std::optional<double>>& loudness_lufs)
{
    std::optional<double> quietest;
    for (const auto& loudness : loudness_lufs)
        if (loudness)
            quietest = std::min(quietest.value_or(*loudness), *loudness);
    std::vector<double> gains;
    for (const auto& loudness : loudness_lufs)
        gains.push_back(loudness ? *quietest - *loudness : 0.0);
    return gains;
}

} // namespace hr::audition

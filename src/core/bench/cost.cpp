// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/cost.h"

#include "bench/programme.h"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <numeric>

namespace hr::bench {

namespace {

constexpr std::size_t usual_block = 256;
constexpr double silence_seconds = 10;
constexpr double slow_ratio = 3;

/// `share` 0 to 1 of the sorted times, in microseconds.
double quantileUs(const std::vector<std::uint32_t>& sorted_ns, double share)
{
    return sorted_ns[static_cast<std::size_t>(share * static_cast<double>(sorted_ns.size() - 1))] / 1e3;
}

struct Times {
    double realtime_factor = 0;
    double p50_us = 0, p99_us = 0, max_us = 0;
};

Times timesOf(std::vector<std::uint32_t> block_ns, double seconds)
{
    std::ranges::sort(block_ns);
    const double busy_s = std::accumulate(block_ns.begin(), block_ns.end(), 0.0) / 1e9;
    return {busy_s > 0 ? seconds / busy_s : 0, quantileUs(block_ns, 0.5), quantileUs(block_ns, 0.99),
            quantileUs(block_ns, 1)};
}

nlohmann::ordered_json json(const Times& times)
{
    return {{"realtime_factor", times.realtime_factor},
            {"block_us_p50", times.p50_us},
            {"block_us_p99", times.p99_us},
            {"block_us_max", times.max_us}};
}

/// Played once to warm up, once for the clock.
hosting::FaultOr<Times> play(Subject& subject, const std::vector<double>& music, std::size_t block_frames)
{
    if (auto ready = subject.restart(block_frames); !ready)
        return tl::make_unexpected(ready.error());
    for (int round = 0; round < 2; ++round) {
        (void)subject.takeBlockTimes();
        if (auto played = subject.process(music); !played)
            return tl::make_unexpected(played.error());
    }
    return timesOf(subject.takeBlockTimes(), programme_seconds);
}

} // namespace

const std::vector<FigureInfo>& costFigures()
{
    static const std::vector<FigureInfo> figures{
        {"realtime_factor",
         "speed",
         "× real time",
         0,
         Better::Higher,
         {},
         "seconds of sound a second of one core, at blocks of 256",
         {},
         {},
         FigureShape::Number,
         true},
        {"block_us_p50", "time of a block", "µs", 1, Better::Lower, {}, "median over blocks of 256"},
        {"block_us_p99",
         "time of a slow block",
         "µs",
         1,
         Better::Lower,
         {},
         "99th percentile over blocks of 256"},
        {"block_us_max", "time of the slowest block", "µs", 1, Better::Lower, {}, "over blocks of 256"},
        {"at_block_64",
         "at blocks of 64",
         "",
         1,
         Better::Neither,
         {},
         "speed and times of blocks, at blocks of 64",
         {},
         {},
         FigureShape::Numbers},
        {"at_block_1024",
         "at blocks of 1024",
         "",
         1,
         Better::Neither,
         {},
         "speed and times of blocks, at blocks of 1024",
         {},
         {},
         FigureShape::Numbers},
        {"start_ms", "time to start", "ms", 1, Better::Lower, {}, "from asking for it to its being ready"},
        {"memory_mib",
         "memory",
         "MiB",
         0,
         Better::Lower,
         {},
         "of the process it runs in",
         {},
         "for third-party processors"},
        {"latency_reported_samples",
         "latency reported",
         "samples",
         0,
         Better::Lower,
         {},
         "what it says once it has run"},
        {"latency_found_samples",
         "latency",
         "samples",
         0,
         Better::Lower,
         {1, 0},
         "delay of the first arrival that dominates, after the minimum-phase part is taken out",
         "A. V. Oppenheim, R. W. Schafer, 1989, ch. 12",
         "where one early arrival dominates",
         FigureShape::Number,
         true},
        {"slow_after_silence",
         "slow after silence",
         "",
         0,
         Better::Neither,
         {},
         "whether blocks take more than three times as long after 8 s of silence",
         {},
         {},
         FigureShape::YesNo}};
    return figures;
}

hosting::FaultOr<Reading> measureCost(Subject& subject)
{
    const double rate_hz = subject.conditions().sample_rate_hz;
    const auto music = programme(rate_hz);
    Reading reading;
    const auto begun = std::chrono::steady_clock::now();
    if (auto ready = subject.restart(); !ready)
        return tl::make_unexpected(ready.error());
    const std::chrono::duration<double, std::milli> start(std::chrono::steady_clock::now() - begun);
    Curve& over_block = reading.series["core"] = {"block_frames", "core_percent", {}};
    for (const std::size_t block : {std::size_t{64}, std::size_t{1024}, usual_block}) {
        auto times = play(subject, music, block);
        if (!times)
            return tl::make_unexpected(times.error());
        if (times->realtime_factor > 0)
            over_block.points.emplace_back(static_cast<double>(block), 100 / times->realtime_factor);
        if (block == usual_block)
            reading.figures.update(json(*times));
        else
            reading.figures["at_block_" + std::to_string(block)] = json(*times);
    }
    std::ranges::sort(over_block.points);
    // The subject is as the programme at the usual block left it.
    reading.put("memory_mib", subject.memoryMib(), "it runs in the bench's own process");
    if (auto quiet = subject.process(std::vector<double>(static_cast<std::size_t>(silence_seconds * rate_hz)));
        !quiet)
        return tl::make_unexpected(quiet.error());
    auto quiet_ns = subject.takeBlockTimes();
    quiet_ns.erase(quiet_ns.begin(), quiet_ns.begin() + static_cast<std::ptrdiff_t>(quiet_ns.size() * 4 / 5));
    reading.figures["slow_after_silence"] = timesOf(quiet_ns, silence_seconds).p50_us >
                                            slow_ratio * reading.figures.at("block_us_p50").get<double>();
    reading.put("start_ms", start.count());
    // Asked now that it has run.
    reading.put("latency_reported_samples", static_cast<double>(subject.latencyReportedSamples()));
    auto found = subject.findLatency();
    if (!found)
        return tl::make_unexpected(found.error());
    reading.put("latency_found_samples", *found ? std::optional(static_cast<double>(**found)) : std::nullopt,
                "no single early arrival dominates the impulse response");
    const double reported = *reading.number("latency_reported_samples");
    if (const auto late = reading.number("latency_found_samples"); late && std::abs(*late - reported) > 1)
        reading.flags.push_back({"latency-misreported", "reports " + std::to_string(std::lround(reported)) +
                                                            ", found " + std::to_string(std::lround(*late)) +
                                                            " samples"});
    return reading;
}

} // namespace hr::bench

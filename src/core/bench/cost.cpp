// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/cost.h"

#include "bench/programme.h"

#include <algorithm>
#include <chrono>
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
hosting::FaultOr<Times> play(Device& device, const std::vector<double>& music, std::size_t block_frames)
{
    if (auto ready = device.restart(block_frames); !ready)
        return tl::make_unexpected(ready.error());
    for (int round = 0; round < 2; ++round) {
        (void)device.takeBlockTimes();
        if (auto played = device.process(music); !played)
            return tl::make_unexpected(played.error());
    }
    return timesOf(device.takeBlockTimes(), programme_seconds);
}

} // namespace

hosting::FaultOr<Reading> measureCost(Device& device)
{
    const double rate_hz = device.conditions().sample_rate_hz;
    const auto music = programme(rate_hz);
    Reading reading;
    const auto begun = std::chrono::steady_clock::now();
    if (auto ready = device.restart(); !ready)
        return tl::make_unexpected(ready.error());
    const std::chrono::duration<double, std::milli> start(std::chrono::steady_clock::now() - begun);
    for (const std::size_t block : {std::size_t{64}, std::size_t{1024}, usual_block}) {
        auto times = play(device, music, block);
        if (!times)
            return tl::make_unexpected(times.error());
        if (block == usual_block)
            reading.figures.update(json(*times));
        else
            reading.figures["at_block_" + std::to_string(block)] = json(*times);
    }
    // The device is as the programme at the usual block left it.
    reading.put("memory_mib", device.memoryMib(), "it runs in the bench's own process");
    if (auto quiet = device.process(std::vector<double>(static_cast<std::size_t>(silence_seconds * rate_hz)));
        !quiet)
        return tl::make_unexpected(quiet.error());
    auto quiet_ns = device.takeBlockTimes();
    quiet_ns.erase(quiet_ns.begin(), quiet_ns.begin() + static_cast<std::ptrdiff_t>(quiet_ns.size() * 4 / 5));
    reading.figures["slow_after_silence"] = timesOf(quiet_ns, silence_seconds).p50_us >
                                            slow_ratio * reading.figures.at("block_us_p50").get<double>();
    reading.put("start_ms", start.count());
    reading.put("latency_reported_samples", static_cast<double>(device.latencyReportedSamples()));
    auto found = device.findLatency();
    if (!found)
        return tl::make_unexpected(found.error());
    reading.put("latency_found_samples", *found ? std::optional(static_cast<double>(**found)) : std::nullopt,
                "no single early arrival dominates the impulse response");
    return reading;
}

} // namespace hr::bench

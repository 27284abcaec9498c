// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/moving_notches.h"

#include "signal/levels.h"
#include "signal/transform.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <numbers>
#include <random>

namespace hr::bench {

namespace {

using hosting::FaultOr;

/// A look takes as long as the signal's period: the first is fine enough for notches at 40 Hz, the others are
/// for what travels so fast that its notches blur within one.
constexpr std::array<std::size_t, 3> periods_frames{2048, 1024, 512};
constexpr double lowest_notch_hz = 40;
constexpr double highest_notch_share = 0.42; // of the sample rate
/// A notch stands so far below both sides of itself.
constexpr double notch_depth_db = 6;
constexpr double least_agreed = 0.3;
constexpr double travels_by = 0.05;

/// All bins equally strong, at random phases: a repeating noise of this RMS level.
std::vector<double> repeatingNoise(std::size_t period_frames, double level_dbfs)
{
    std::mt19937_64 random(7);
    std::uniform_real_distribution<double> turn(0, 2 * std::numbers::pi);
    std::vector<std::complex<double>> bins(period_frames / 2 + 1);
    for (std::size_t k = 1; k + 1 < bins.size(); ++k)
        bins[k] = std::polar(1.0, turn(random));
    auto noise = signal::inverseTransform(bins, period_frames);
    const double gain = signal::dbToLinear(level_dbfs - signal::rmsDbfs(std::span<const double>(noise)));
    for (double& sample : noise)
        sample *= gain;
    return noise;
}

/// Lows that stand `notch_depth_db` below the highest point on either side, before a deeper one comes.
std::vector<std::size_t> lowsOf(const std::vector<double>& level_db, std::size_t first, std::size_t last)
{
    std::vector<std::size_t> lows;
    double high = level_db[first]; // since the last low
    std::size_t low = first;
    bool falling = true;
    for (std::size_t k = first; k <= last; ++k) {
        if (falling) {
            if (level_db[k] < level_db[low])
                low = k;
            if (level_db[k] > level_db[low] + notch_depth_db && high > level_db[low] + notch_depth_db) {
                lows.push_back(low);
                falling = false;
                high = level_db[k];
            } else if (level_db[k] > high) {
                high = level_db[k];
                low = k;
            }
        } else {
            if (level_db[k] > high)
                high = level_db[k];
            if (level_db[k] < high - notch_depth_db) {
                falling = true;
                low = k;
            }
        }
    }
    return lows;
}

/// The count that most looks have, where a good part of them agree: noise has one as soon as another, and so
/// has what blurs.
std::optional<std::size_t> agreedCount(const std::vector<std::vector<double>>& looks)
{
    std::map<std::size_t, std::size_t> times;
    for (const auto& look : looks)
        ++times[look.size()];
    const auto most = std::ranges::max_element(times, {}, [](const auto& one) { return one.second; });
    const bool agreed = static_cast<double>(most->second) > least_agreed * static_cast<double>(looks.size());
    return agreed ? std::optional(most->first) : std::nullopt;
}

bool doTravel(const std::vector<std::vector<double>>& looks, std::size_t count)
{
    double low = 1e9;
    double high = 0;
    for (const auto& look : looks)
        if (look.size() == count && count > 0) {
            low = std::min(low, look.front());
            high = std::max(high, look.front());
        }
    return high > (1 + travels_by) * low;
}

/// Looks at the response, one for each period of the signal.
FaultOr<NotchPaths> lookThrough(Subject& subject, std::size_t period_frames, double level_dbfs, double seconds)
{
    const double rate_hz = subject.conditions().sample_rate_hz;
    const auto noise = repeatingNoise(period_frames, level_dbfs);
    const auto in = signal::forwardTransform(noise);
    if (auto started = subject.restart(); !started)
        return tl::make_unexpected(started.error());
    NotchPaths paths;
    paths.step_s = static_cast<double>(period_frames) / rate_hz;
    const auto settling = static_cast<std::size_t>(1 / paths.step_s);
    const auto looks = settling + static_cast<std::size_t>(seconds / paths.step_s);
    const double bin_hz = rate_hz / static_cast<double>(period_frames);
    std::vector<double> level_db(in.size());
    for (std::size_t n = 0; n < looks; ++n) {
        auto out = subject.process(noise);
        if (!out)
            return tl::make_unexpected(out.error());
        if (n < settling)
            continue;
        const auto answer = signal::forwardTransform(asDoubles(std::as_const(*out).channel(0)));
        for (std::size_t k = 0; k < in.size(); ++k)
            level_db[k] = signal::powerToDb((std::norm(answer[k]) + 1e-20) / (std::norm(in[k]) + 1e-20));
        std::vector<double> notches;
        for (const std::size_t k : lowsOf(level_db, static_cast<std::size_t>(lowest_notch_hz / bin_hz),
                                          static_cast<std::size_t>(highest_notch_share * rate_hz / bin_hz)))
            notches.push_back(static_cast<double>(k) * bin_hz);
        paths.notches_hz.push_back(notches);
    }
    return paths;
}

} // namespace

FaultOr<NotchPaths> notchPaths(Subject& subject, double level_dbfs, double seconds)
{
    for (const std::size_t period_frames : periods_frames) {
        auto paths = lookThrough(subject, period_frames, level_dbfs, seconds);
        if (!paths)
            return tl::make_unexpected(paths.error());
        if (const auto count = agreedCount(paths->notches_hz)) {
            paths->count = *count;
            paths->travels = doTravel(paths->notches_hz, *count);
            return paths;
        }
    }
    return NotchPaths();
}

} // namespace hr::bench

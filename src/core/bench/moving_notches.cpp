// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/moving_notches.h"

#include "signal/levels.h"
#include "signal/transform.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <numbers>

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
constexpr double least_seen = 0.1;
constexpr double travels_by = 0.05;
/// A notch is in the same place where two sweeps find it so close, in so many of the looks.
constexpr double same_place = 1.15;
constexpr double least_same = 0.6;
/// From the look before to the look after: what goes further could be anywhere.
constexpr double followed = 2.5;

/// All bins equally strong, one after the other: a repeating linear sweep of this RMS level (the phases of M.
/// R. Schroeder, IEEE Trans. Inf. Theory 16, 1970). So each frequency is looked at in one moment, and what
/// travels while another is heard blurs nothing.
std::vector<double> repeatingSweep(std::size_t period_frames, double level_dbfs, bool downwards)
{
    std::vector<std::complex<double>> bins(period_frames / 2 + 1);
    for (std::size_t k = 1; k + 1 < bins.size(); ++k) {
        const double turns = static_cast<double>(k * k) / static_cast<double>(period_frames);
        bins[k] = std::polar(1.0, (downwards ? 2 : -2) * std::numbers::pi * turns);
    }
    auto sweep = signal::inverseTransform(bins, period_frames);
    const double gain = signal::dbToLinear(level_dbfs - signal::rmsDbfs(std::span<const double>(sweep)));
    for (double& sample : sweep)
        sample *= gain;
    return sweep;
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

/// How many there are, where a good part of the looks agree: noise has one count as soon as another, and so has
/// what blurs. One that leaves the band for a while is missing then: it is the largest count that is seen again
/// and again.
std::optional<std::size_t> agreedCount(const std::vector<std::vector<double>>& looks)
{
    std::map<std::size_t, std::size_t> times;
    for (const auto& look : looks)
        ++times[look.size()];
    const auto most = std::ranges::max_element(times, {}, [](const auto& one) { return one.second; });
    const bool agreed = static_cast<double>(most->second) > least_agreed * static_cast<double>(looks.size());
    if (!agreed)
        return std::nullopt;
    const auto largest = std::find_if(times.rbegin(), times.rend(), [&](const auto& one) {
        return static_cast<double>(one.second) > least_seen * static_cast<double>(looks.size());
    });
    return std::max(most->first, largest == times.rend() ? 0 : largest->first);
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
FaultOr<NotchPaths> lookThrough(Subject& subject, std::size_t period_frames, double level_dbfs, double seconds,
                                bool downwards)
{
    const double rate_hz = subject.conditions().sample_rate_hz;
    const auto sweep = repeatingSweep(period_frames, level_dbfs, downwards);
    const auto in = signal::forwardTransform(sweep);
    if (auto started = subject.restart(); !started)
        return tl::make_unexpected(started.error());
    NotchPaths paths;
    paths.step_s = static_cast<double>(period_frames) / rate_hz;
    const auto settling = static_cast<std::size_t>(1 / paths.step_s);
    const auto looks = settling + static_cast<std::size_t>(seconds / paths.step_s);
    const double bin_hz = rate_hz / static_cast<double>(period_frames);
    std::vector<double> level_db(in.size());
    for (std::size_t n = 0; n < looks; ++n) {
        auto out = subject.process(sweep);
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

/// Whether the lowest notch is where the sweep the other way shows it, about that time: a level that moves in
/// time is low elsewhere then.
bool agreeOnFrequency(const NotchPaths& up, const NotchPaths& down)
{
    const auto& looks = up.notches_hz;
    std::size_t same = 0;
    std::size_t compared = 0;
    for (std::size_t n = 1; n + 1 < std::min(looks.size(), down.notches_hz.size()); ++n) {
        if (looks[n].size() != up.count)
            continue;
        ++compared;
        if (down.notches_hz[n].size() != up.count)
            continue;
        double low = looks[n].front();
        double high = low;
        for (const std::size_t beside : {n - 1, n + 1})
            if (looks[beside].size() == up.count) {
                low = std::min(low, looks[beside].front());
                high = std::max(high, looks[beside].front());
            }
        const double other = down.notches_hz[n].front();
        const bool there = other > low / same_place && other < high * same_place;
        same += there && high < followed * low ? 1 : 0;
    }
    return static_cast<double>(same) > least_same * static_cast<double>(compared);
}

} // namespace

FaultOr<NotchPaths> notchPaths(Subject& subject, double level_dbfs, double seconds)
{
    NotchPaths none;
    for (const std::size_t period_frames : periods_frames) {
        auto paths = lookThrough(subject, period_frames, level_dbfs, seconds, false);
        if (!paths)
            return tl::make_unexpected(paths.error());
        const auto count = agreedCount(paths->notches_hz);
        if (!count)
            continue;
        paths->count = *count;
        paths->travels = doTravel(paths->notches_hz, *count);
        if (!paths->travels)
            return paths;
        const auto down = lookThrough(subject, period_frames, level_dbfs, seconds, true);
        if (!down)
            return tl::make_unexpected(down.error());
        if (agreeOnFrequency(*paths, *down))
            return paths;
        none.unsure = true;
    }
    return none;
}

} // namespace hr::bench

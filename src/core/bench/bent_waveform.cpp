// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/bent_waveform.h"

#include "signal/levels.h"
#include "signal/phasor.h"

#include <algorithm>
#include <cmath>
#include <complex>

namespace hr::bench {

namespace {

using hosting::FaultOr;
using FromTo = std::pair<double, double>; // from, to, dBFS

/// Harmonics that rise so far against the tone over 20 dB, to this share, are the waveform's doing;
constexpr double distortion_rise_db = 6;
constexpr double least_distortion_db = -60;
/// to this share where the gain bends as well: a filter behind it takes most of them away;
constexpr double least_beside_a_bend_db = -90;
/// so are such strong ones, however they go with the level.
constexpr double plain_distortion_db = -40;
constexpr double one_cycle_within_db = 0.1;
constexpr double across_jump_db = 10;
constexpr int most_harmonics = 10;
constexpr double clear_of_hiss = 6; // in power
/// Levels between which nothing bends, and how many of them there have to be.
constexpr double straight_within_db = 0.03;
constexpr double least_straight_db = 10;
/// What is bent takes no more than so many times the cycles of what is straight, and one.
constexpr double as_quick = 1.3;

/// Power of one frequency: its sine and cosine parts.
double powerAt(std::span<const double> samples, double frequency_hz, double rate_hz)
{
    std::complex<double> sum;
    signal::Phasor tone(frequency_hz / rate_hz);
    for (const double sample : samples)
        sum += sample * tone.next();
    const auto n = static_cast<double>(samples.size());
    return 2 * std::norm(sum) / (n * n);
}

/// Whether the harmonics are those of a bent waveform. Of a tone below -30 dBFS only what is louder than the
/// processor's own noise; where the gain jumps, a gate opens and closes within each cycle.
bool distorts(const Steps& steps, double idle_dbfs, double least_db,
              const std::optional<std::pair<double, double>>& jump)
{
    double lowest_db = 1e9;
    for (std::size_t i = 0; i < steps.curve.size(); ++i) {
        const double now_db = steps.distortion_db[i];
        if (jump && steps.curve[i].first >= jump->first && steps.curve[i].first <= jump->second)
            continue;
        if (steps.curve[i].first < -30) {
            if (now_db > plain_distortion_db && steps.curve[i].second + now_db > idle_dbfs)
                return true;
            continue;
        }
        if (now_db > plain_distortion_db)
            return true;
        lowest_db = std::min(lowest_db, now_db);
        if (now_db > least_db && now_db > lowest_db + distortion_rise_db)
            return true;
    }
    return false;
}

/// Level of one cycle, without the slope that a wandering mean (a lopsided curve behind a DC filter) gives it.
/// Not of the first or the last.
double cycleDbfs(const std::vector<double>& samples, std::size_t frames, std::size_t which)
{
    const auto meanOf = [&](std::size_t cycle) {
        double sum = 0;
        for (std::size_t i = 0; i < frames; ++i)
            sum += samples[cycle * frames + i];
        return sum / static_cast<double>(frames);
    };
    const double slope = (meanOf(which + 1) - meanOf(which - 1)) / (2 * static_cast<double>(frames));
    std::vector<double> level(frames);
    for (std::size_t i = 0; i < frames; ++i)
        level[i] = samples[which * frames + i] - slope * static_cast<double>(i);
    return acLevelDbfs(level);
}

/// Whether the second cycle after a step is as loud as the settled tone.
FaultOr<bool> isDoneAtOnce(SteppedTone& tone, const FromTo& step)
{
    if (auto before = tone.settled(step.first); !before)
        return tl::make_unexpected(before.error());
    auto first = tone.stretch(step.second);
    if (!first)
        return tl::make_unexpected(first.error());
    auto after = tone.settled(step.second);
    if (!after)
        return tl::make_unexpected(after.error());
    return std::abs(cycleDbfs(*first, tone.cycleFrames(), 1) - cycleDbfs(*after, tone.cycleFrames(), 1)) <=
           one_cycle_within_db;
}

/// Cycles from a step until the level is what it settles at.
FaultOr<std::size_t> cyclesUntilDone(SteppedTone& tone, const FromTo& step)
{
    if (auto before = tone.settled(step.first); !before)
        return tl::make_unexpected(before.error());
    auto all = tone.held(step.second);
    if (!all)
        return tl::make_unexpected(all.error());
    const std::size_t frames = tone.cycleFrames();
    const std::size_t last = all->size() / frames - 2;
    const double settled_dbfs = cycleDbfs(*all, frames, last);
    const double within_db = std::max(one_cycle_within_db, 10 * tone.noiseDb(step.second));
    std::size_t cycle = last;
    while (cycle > 1 && std::abs(cycleDbfs(*all, frames, cycle - 1) - settled_dbfs) <= within_db)
        --cycle;
    return cycle;
}

/// How far the curve is straight from its lower end, or else from its upper one, in dB; and whether it is the
/// lower.
std::pair<double, bool> straightPart(const LevelCurve& curve)
{
    const auto gain_db = [&](std::size_t i) { return curve[i].second - curve[i].first; };
    std::size_t low = 0;
    while (low + 1 < curve.size() && std::abs(gain_db(low + 1) - gain_db(0)) < straight_within_db)
        ++low;
    std::size_t high = curve.size() - 1;
    while (high > 0 && std::abs(gain_db(high - 1) - gain_db(curve.size() - 1)) < straight_within_db)
        --high;
    const double low_db = curve[low].first - curve.front().first;
    const double high_db = curve.back().first - curve[high].first;
    return low_db >= high_db ? std::pair(low_db, true) : std::pair(high_db, false);
}

/// Whether a step across the bend, up and down, is done as soon as one of the same size where nothing bends.
FaultOr<bool> isDoneAsSoonAsWhereStraight(SteppedTone& tone, const LevelCurve& curve)
{
    const auto [straight_db, is_low] = straightPart(curve);
    const double size_db = std::min(straight_db, 30.0);
    if (size_db < least_straight_db)
        return false;
    const double bottom = curve.front().first;
    const double top = curve.back().first;
    const FromTo low{bottom, bottom + size_db};
    const FromTo high{top - size_db, top};
    const FromTo& straight = is_low ? low : high;
    const FromTo& bent = is_low ? high : low;
    for (const bool up : {true, false}) {
        const auto way = [up](const FromTo& step) { return up ? step : FromTo(step.second, step.first); };
        auto usual = cyclesUntilDone(tone, way(straight));
        if (!usual)
            return tl::make_unexpected(usual.error());
        auto here = cyclesUntilDone(tone, way(bent));
        if (!here)
            return tl::make_unexpected(here.error());
        if (static_cast<double>(*here) > as_quick * static_cast<double>(*usual) + 1)
            return false;
    }
    return true;
}

} // namespace

double distortionDb(std::span<const double> samples, double frequency_hz, double rate_hz)
{
    double harmonics = 0;
    double between = 0;
    for (int n = 2; n <= most_harmonics && n * frequency_hz < 0.49 * rate_hz; ++n) {
        harmonics += powerAt(samples, n * frequency_hz, rate_hz);
        between += powerAt(samples, (n - 0.5) * frequency_hz, rate_hz);
    }
    if (harmonics < clear_of_hiss * between)
        harmonics = 0;
    return signal::powerToDb(std::max(1e-20, harmonics) /
                             std::max(1e-15, powerAt(samples, frequency_hz, rate_hz)));
}

bool distortsAlike(const Steps& steps)
{
    constexpr double alike_db = 1;
    std::vector<double> loud_db;
    for (std::size_t i = 0; i < steps.curve.size(); ++i)
        if (steps.curve[i].first >= -30)
            loud_db.push_back(steps.distortion_db[i]);
    const auto [least, most] = std::ranges::minmax(loud_db);
    return most - least < alike_db;
}

FaultOr<bool> bendsTheWaveform(SteppedTone& tone, const Steps& steps, double idle_dbfs, bool bends,
                               const std::optional<std::pair<double, double>>& jump)
{
    if (!distorts(steps, idle_dbfs, bends ? least_beside_a_bend_db : least_distortion_db, jump))
        return false;
    std::vector<FromTo> tried{{-30.0, 0.0}, {0.0, -30.0}};
    if (jump) { // also across it
        const double below = std::max(steps.curve.front().first, jump->first - across_jump_db);
        const double above = std::min(0.0, jump->second + across_jump_db);
        tried.emplace_back(below, above);
        tried.emplace_back(above, below);
    }
    bool at_once = true;
    for (std::size_t i = 0; i < tried.size() && at_once; ++i) {
        auto done = isDoneAtOnce(tone, tried[i]);
        if (!done)
            return done;
        at_once = *done;
    }
    if (at_once || jump)
        return at_once;
    return isDoneAsSoonAsWhereStraight(tone, steps.curve);
}

} // namespace hr::bench

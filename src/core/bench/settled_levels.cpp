// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/settled_levels.h"

#include "bench/jump.h"
#include "signal/levels.h"
#include "signal/phasor.h"
#include "signal/transform.h"

#include <algorithm>
#include <cmath>
#include <complex>

namespace hr::bench {

namespace {

using hosting::FaultOr;

constexpr double lowest_level_dbfs = -60;
/// Or where the tone stands out of the subject's own noise by this.
constexpr double clear_of_noise_db = 20;
/// Where the subject is got to know: above most gates, below most compressors.
constexpr double known_at_dbfs = -30;
/// Steps that take longer than this are tried every 5 dB first, or every 7.5: what is linear at those is.
constexpr double long_hold_s = 0.8;
constexpr double very_long_hold_s = 2;
constexpr double straight_within_db = 0.02;
constexpr double sharp_knee_db = 2;
constexpr double good_fit_db = 0.02;
/// Of a full-scale tone nothing came out: below the noise of 24 bits by far.
constexpr double nothing_dbfs = -150;
/// Digital silence: the quietest tone behind a gate of 120 dB is louder.
constexpr double silent_dbfs = -180;
/// What puts out so much by itself, and no more with a full-scale tone, does not listen.
constexpr double audible_dbfs = -120;
/// Harmonics that rise so far against the tone over 20 dB, to this share, are the waveform's doing;
constexpr double distortion_rise_db = 6;
constexpr double least_distortion_db = -60;
/// so are such strong ones, however they go with the level.
constexpr double plain_distortion_db = -40;
constexpr double one_cycle_within_db = 0.1;
constexpr double across_jump_db = 10;
constexpr int most_harmonics = 10;
constexpr double clear_of_hiss = 6; // in power

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

/// Harmonics 2 to 10 against the tone; what moves or hisses is not among them: it lies between them as well.
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

/// What is in a stretch, and the hiss in it that comes with the sound alone: halfway between the harmonics
/// nothing else lies.
struct ToneAndHiss {
    double tone_dbfs, hiss_dbfs;
};
ToneAndHiss toneAndHiss(const std::vector<double>& samples, double frequency_hz, double rate_hz)
{
    const auto bins = signal::forwardTransform(samples);
    const auto n = static_cast<double>(samples.size());
    const auto cycles = static_cast<std::size_t>(std::lround(frequency_hz * n / rate_hz));
    double all = 0;
    double between = 0;
    double count = 0;
    for (std::size_t k = 1; k < bins.size(); ++k) {
        all += std::norm(bins[k]);
        const std::size_t beyond = k % cycles; // a harmonic
        if (4 * beyond >= cycles && 4 * beyond <= 3 * cycles) {
            between += std::norm(bins[k]);
            ++count;
        }
    }
    const double hiss = count > 0 ? between / count * static_cast<double>(bins.size() - 1) : 0;
    const auto level = [&](double power) {
        return std::max(-200.0, signal::powerToDb(4 * std::max(0.0, power) / (n * n)));
    };
    return {level(all - hiss), level(hiss)};
}

struct Steps {
    LevelCurve curve;
    std::vector<double> distortion_db; // at each level
};

/// Power that the subject adds by itself is not part of the answer.
double withoutNoise(double level_dbfs, double idle_dbfs)
{
    const double power = std::pow(10, level_dbfs / 10) - std::pow(10, idle_dbfs / 10);
    return power > 0 ? std::max(silent_dbfs, signal::powerToDb(power)) : silent_dbfs;
}

double lowestLevel(double idle_dbfs)
{
    return std::clamp(std::ceil((idle_dbfs + clear_of_noise_db) / 5) * 5, lowest_level_dbfs, known_at_dbfs);
}

FaultOr<Steps> runSteps(SteppedTone& tone, double rate_hz, double step_db, double idle_dbfs)
{
    Steps steps;
    const double lowest = lowestLevel(idle_dbfs);
    const auto count = static_cast<int>(std::lround(-lowest / step_db));
    for (int n = 0; n <= count; ++n) {
        const double level = lowest * (1 - static_cast<double>(n) / count);
        auto last = tone.settled(level);
        if (!last)
            return tl::make_unexpected(last.error());
        const auto [tone_dbfs, hiss_dbfs] = toneAndHiss(*last, tone.frequencyHz(), rate_hz);
        if (steps.curve.empty() && level < known_at_dbfs && hiss_dbfs > level - clear_of_noise_db)
            continue; // as for what it adds in silence
        steps.curve.emplace_back(level, tone.answerDbfs(level, withoutNoise(tone_dbfs, idle_dbfs)));
        steps.distortion_db.push_back(distortionDb(*last, tone.frequencyHz(), rate_hz));
    }
    return steps;
}

bool isStraight(const Steps& steps)
{
    const auto gain_db = [](const auto& point) { return point.second - point.first; };
    const auto [low, high] = std::ranges::minmax(steps.curve, {}, gain_db);
    return gain_db(high) - gain_db(low) < straight_within_db &&
           std::ranges::max(steps.distortion_db) < least_distortion_db;
}

FaultOr<Steps> stepThrough(Subject& subject, SteppedTone& tone, SettledLevels& levels, double rate_hz,
                           double idle_dbfs)
{
    if (tone.leastHoldS() > long_hold_s) {
        // As many steps, wherever they begin.
        levels.step_db =
            (tone.leastHoldS() > very_long_hold_s ? 7.5 : 5) * lowestLevel(idle_dbfs) / lowest_level_dbfs;
        auto coarse = runSteps(tone, rate_hz, levels.step_db, idle_dbfs);
        if (!coarse || isStraight(*coarse))
            return coarse;
        // Afresh: what holds its gain after the loud tone would seem to rest there.
        if (auto started = subject.restart(); !started)
            return tl::make_unexpected(started.error());
    }
    levels.step_db = 1;
    return runSteps(tone, rate_hz, 1, idle_dbfs);
}

/// Whether the harmonics are those of a bent waveform. Of a tone below -30 dBFS only what is louder than the
/// processor's own noise; where the gain jumps, a gate opens and closes within each cycle.
bool distorts(const Steps& steps, double idle_dbfs, const std::optional<std::pair<double, double>>& jump)
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
        if (now_db > least_distortion_db && now_db > lowest_db + distortion_rise_db)
            return true;
    }
    return false;
}

/// Level of the second cycle, without the slope that a wandering mean (a lopsided curve behind a DC filter)
/// gives it.
double secondCycleDbfs(const std::vector<double>& samples, std::size_t cycle)
{
    const auto meanOf = [&](std::size_t which) {
        double sum = 0;
        for (std::size_t i = 0; i < cycle; ++i)
            sum += samples[which * cycle + i];
        return sum / static_cast<double>(cycle);
    };
    const double slope = (meanOf(2) - meanOf(0)) / (2 * static_cast<double>(cycle));
    std::vector<double> level(cycle);
    for (std::size_t i = 0; i < cycle; ++i)
        level[i] = samples[cycle + i] - slope * static_cast<double>(i);
    return acLevelDbfs(level);
}

/// Whether the second cycle after a step, up and down, is as loud as the settled tone; also across a jump.
FaultOr<bool> followsWithinACycle(SteppedTone& tone, const std::optional<std::pair<double, double>>& jump)
{
    std::vector<std::pair<double, double>> tried{{-30.0, 0.0}, {0.0, -30.0}};
    if (jump) {
        const double below = std::max(lowest_level_dbfs, jump->first - across_jump_db);
        const double above = std::min(0.0, jump->second + across_jump_db);
        tried.insert(tried.end(), {{below, above}, {above, below}});
    }
    for (const auto& [from, to] : tried) {
        auto before = tone.settled(from);
        if (!before)
            return tl::make_unexpected(before.error());
        auto first = tone.stretch(to);
        if (!first)
            return tl::make_unexpected(first.error());
        auto after = tone.settled(to);
        if (!after)
            return tl::make_unexpected(after.error());
        if (std::abs(secondCycleDbfs(*first, tone.cycleFrames()) -
                     secondCycleDbfs(*after, tone.cycleFrames())) > one_cycle_within_db)
            return false;
    }
    return true;
}

/// A bend that is sharp lies between two steps: what comes out at the threshold itself tells how sharp it is.
FaultOr<void> lookAtTheBend(Subject& subject, SteppedTone& tone, SettledLevels& levels, double idle_dbfs)
{
    const auto& threshold = levels.figures.threshold_db;
    if (!threshold || levels.figures.knee_db.value_or(sharp_knee_db) >= sharp_knee_db ||
        levels.figures.misfit_db > good_fit_db)
        return {};
    if (auto started = subject.restart(); !started) // nothing is left to be released
        return started;
    auto out = tone.settled(*threshold);
    if (!out)
        return tl::make_unexpected(out.error());
    const double tone_dbfs =
        toneAndHiss(*out, tone.frequencyHz(), subject.conditions().sample_rate_hz).tone_dbfs;
    levels.further.emplace_back(*threshold, tone.answerDbfs(*threshold, withoutNoise(tone_dbfs, idle_dbfs)));
    levels.figures = refined(levels.figures, levels.curve, levels.further);
    return {};
}

/// Why there are no dynamics to speak of; empty where there may be.
std::string whyNoDynamics(const Temper& temper)
{
    if (!temper.first_s && temper.idle_dbfs > audible_dbfs)
        return "the output does not depend on the input";
    if (!temper.first_s)
        return "the tone did not come through within " +
               std::to_string(static_cast<int>(SteppedTone::longest_hold_s)) + " s";
    if (temper.moves)
        return "the level of a steady tone moves by itself";
    if (temper.pitch_moves)
        return "the pitch of a steady tone moves by itself";
    if (!temper.settles || temper.settled_s > SteppedTone::longest_hold_s)
        return "the level of a steady tone was still changing after " +
               std::to_string(static_cast<int>(SteppedTone::longest_hold_s)) + " s";
    return {};
}

/// The subject at the level where it is got to know or, where nothing comes through there, at full scale.
FaultOr<Temper> getToKnow(SteppedTone& tone)
{
    auto temper = tone.getToKnow(known_at_dbfs);
    if (temper && !temper->first_s)
        temper = tone.getToKnow(0);
    return temper;
}

} // namespace

FaultOr<SettledLevels> settleLevels(Subject& subject, SteppedTone& tone)
{
    SettledLevels levels;
    levels.frequency_hz = tone.frequencyHz();
    auto temper = getToKnow(tone);
    if (!temper)
        return tl::make_unexpected(temper.error());
    levels.why_none = whyNoDynamics(*temper);
    if (!levels.why_none.empty())
        return levels;
    levels.held_s = tone.leastHoldS();
    // Afresh, so that the first step does not stand in the tail of the tone before.
    if (auto started = subject.restart(); !started)
        return tl::make_unexpected(started.error());
    auto steps = stepThrough(subject, tone, levels, subject.conditions().sample_rate_hz, temper->idle_dbfs);
    if (!steps)
        return tl::make_unexpected(steps.error());
    levels.curve = steps->curve;
    if (levels.curve.back().second <= nothing_dbfs) {
        levels.why_none = "the tone did not come through";
        return levels;
    }
    levels.closes_to_silence = levels.curve.front().second <= silent_dbfs;
    const double noise_db = tone.noiseDb(levels.curve.front().first);
    levels.figures = readLevelCurve(levels.curve, noise_db);
    if (auto done = tellJumpFromSlope(subject, tone, levels, noise_db); !done)
        return tl::make_unexpected(done.error());
    if (distorts(*steps, temper->idle_dbfs, levels.figures.jump)) {
        auto follows = followsWithinACycle(tone, levels.figures.jump);
        if (!follows)
            return tl::make_unexpected(follows.error());
        levels.saturating = *follows;
    }
    if (levels.figures.model && !levels.saturating)
        if (auto done = lookAtTheBend(subject, tone, levels, temper->idle_dbfs); !done)
            return tl::make_unexpected(done.error());
    if (levels.figures.jump && !levels.saturating)
        if (auto done = bisectJump(subject, tone, levels); !done)
            return tl::make_unexpected(done.error());
    levels.unsettled = tone.unsettled();
    return levels;
}

} // namespace hr::bench

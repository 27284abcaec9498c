// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/settled_levels.h"

#include "bench/bent_waveform.h"
#include "bench/jump.h"
#include "signal/levels.h"
#include "signal/transform.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <span>

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
/// Nothing comes out where no step is louder.
constexpr double nothing_dbfs = -100;
/// What follows the input does so by this over so many dB.
constexpr double follows_by_db = 3;
constexpr double follows_over_db = 60;
/// Digital silence: the quietest tone behind a gate of 120 dB is louder.
constexpr double silent_dbfs = -180;
/// What puts out so much by itself, and no more with a full-scale tone, does not listen.
constexpr double audible_dbfs = -120;
/// With harmonics no stronger than this a tone is no worse for them.
constexpr double least_distortion_db = -60;

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

/// Power that the subject adds by itself is not part of the answer.
double withoutNoise(double level_dbfs, double idle_dbfs)
{
    const double power = signal::dbToPower(level_dbfs) - signal::dbToPower(idle_dbfs);
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
        steps.hiss_dbfs.push_back(hiss_dbfs);
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

/// Whether what comes out has a level of its own, all the time or as long as something loud enough goes in.
bool runsFreely(const LevelCurve& curve)
{
    auto from = std::ranges::find_if(curve, [](const auto& step) { return step.second > nothing_dbfs; });
    if (from != curve.begin() && from != curve.end())
        ++from; // it may have come in the middle of that one
    if (curve.end() - from < 4)
        return false;
    const double over_db = curve.back().first - from->first;
    const auto [least, most] =
        std::ranges::minmax(std::span(from, curve.end()), {}, &LevelCurve::value_type::second);
    return most.second - least.second < follows_by_db * over_db / follows_over_db;
}

/// Why there is no curve to read, once the steps are known; notes whether nothing came out.
std::string whyNoCurve(const Steps& steps, SettledLevels& levels)
{
    const double loudest_dbfs = std::ranges::max(steps.curve, {}, &LevelCurve::value_type::second).second;
    LevelCurve other_tones;
    for (std::size_t i = 0; i < steps.curve.size(); ++i)
        other_tones.emplace_back(steps.curve[i].first, steps.hiss_dbfs[i]);
    levels.nothing_comes_out = std::max(loudest_dbfs, std::ranges::max(steps.hiss_dbfs)) <= nothing_dbfs;
    if (levels.nothing_comes_out)
        return "nothing-comes-out: no step comes out above -100 dBFS";
    const bool as_others = loudest_dbfs <= nothing_dbfs;
    if (runsFreely(as_others ? other_tones : steps.curve))
        return "free-running: the level that comes out does not follow the one that goes in";
    if (as_others)
        return "the tone comes out as other tones";
    return {};
}

/// Whether another tone comes out with what is no harmonic of it.
FaultOr<bool> addsInharmonics(Subject& subject)
{
    constexpr double another_hz = 1300; // with no small whole number between it and 1 kHz
    constexpr double level_dbfs = -12;
    constexpr double clearly_db = -40;
    if (auto started = subject.restart(); !started)
        return tl::make_unexpected(started.error());
    SteppedTone tone(subject, another_hz);
    auto out = tone.settled(level_dbfs);
    if (!out)
        return tl::make_unexpected(out.error());
    const auto bins = signal::forwardTransform(*out);
    const auto cycles = static_cast<std::size_t>(std::lround(tone.frequencyHz() * tone.stretchS()));
    double harmonic = 0;
    double other = 0;
    for (std::size_t k = 1; k < bins.size(); ++k)
        (k % cycles == 0 ? harmonic : other) += std::norm(bins[k]);
    return other > harmonic * signal::dbToPower(clearly_db);
}

/// Why there are no dynamics to speak of; empty where there may be.
std::string whyNoDynamics(const Temper& temper)
{
    if (!temper.first_s && temper.idle_dbfs > audible_dbfs)
        return "free-running: the output does not depend on the input";
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
    levels.why_none = whyNoCurve(*steps, levels);
    if (!levels.why_none.empty())
        return levels;
    levels.closes_to_silence = levels.curve.front().second <= silent_dbfs;
    const double noise_db = tone.noiseDb(levels.curve.front().first);
    levels.figures = readLevelCurve(levels.curve, noise_db);
    if (auto done = tellJumpFromSlope(subject, tone, levels, noise_db); !done)
        return tl::make_unexpected(done.error());
    auto bent =
        bendsTheWaveform(tone, *steps, temper->idle_dbfs, levels.figures.kind != "linear", levels.figures.jump);
    if (!bent)
        return tl::make_unexpected(bent.error());
    levels.saturating = *bent;
    if (levels.saturating && tone.input() == SteppedInput::Main && distortsAlike(*steps)) {
        auto inharmonic = addsInharmonics(subject);
        if (!inharmonic)
            return tl::make_unexpected(inharmonic.error());
        levels.inharmonic = *inharmonic;
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

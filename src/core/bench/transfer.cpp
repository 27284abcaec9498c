// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/transfer.h"

#include "bench/level_curve.h"
#include "bench/stepped_tone.h"
#include "signal/generators.h"
#include "signal/levels.h"

#include <algorithm>
#include <cmath>

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
constexpr double bisected_to_db = 0.1;
constexpr double poor_fit_db = 0.05;
/// Nothing came out: below the noise of 24 bits by far.
constexpr double silent_dbfs = -150;
/// What puts out so much by itself, and no more with a full-scale tone, does not listen.
constexpr double audible_dbfs = -120;
/// Against the lowest level: distortion that has risen this far, to this share, is the waveform's doing.
constexpr double distortion_rise_db = 10;
constexpr double least_distortion_db = -60;
constexpr double one_cycle_within_db = 0.1;

const std::initializer_list<const char*> level_figures{"kind",    "threshold_db", "ratio",
                                                       "knee_db", "makeup_db",    "range_db"};

/// What is not the tone itself, against the tone: everything but its sine and cosine part.
double distortionDb(std::span<const double> samples, double frequency_hz, double rate_hz)
{
    double in_phase = 0;
    double quadrature = 0;
    double total = 0;
    for (std::size_t i = 0; i < samples.size(); ++i) {
        const double angle = 2 * M_PI * frequency_hz / rate_hz * static_cast<double>(i);
        in_phase += samples[i] * std::sin(angle);
        quadrature += samples[i] * std::cos(angle);
        total += samples[i] * samples[i];
    }
    const double tone =
        2 * (in_phase * in_phase + quadrature * quadrature) / static_cast<double>(samples.size());
    return signal::powerToDb(std::max(1e-15, total - tone) / std::max(1e-15, tone));
}

struct Steps {
    LevelCurve curve;
    double distortion_low_db = 0, distortion_high_db = 0;
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
        steps.curve.emplace_back(level, withoutNoise(acLevelDbfs(*last), idle_dbfs));
        const double distortion = distortionDb(*last, tone.frequencyHz(), rate_hz);
        // The tone of -30 dBFS stands for the low end: quieter ones drown in a processor's own noise.
        if (level <= -30)
            steps.distortion_low_db = distortion;
        steps.distortion_high_db = distortion;
    }
    return steps;
}

bool isStraight(const Steps& steps)
{
    const auto gain_db = [](const auto& point) { return point.second - point.first; };
    const auto [low, high] = std::ranges::minmax(steps.curve, {}, gain_db);
    return gain_db(high) - gain_db(low) < straight_within_db && steps.distortion_high_db < least_distortion_db;
}

/// The level at which the gain jumps, between two neighbouring steps, coming from below.
FaultOr<double> bisect(SteppedTone& tone, std::pair<double, double> between)
{
    const double start = between.first;
    auto low_out = tone.settled(start);
    if (!low_out)
        return tl::make_unexpected(low_out.error());
    auto high_out = tone.settled(between.second);
    if (!high_out)
        return tl::make_unexpected(high_out.error());
    const double middle_gain = (acLevelDbfs(*low_out) - start + acLevelDbfs(*high_out) - between.second) / 2;
    const bool rises = acLevelDbfs(*high_out) - between.second > middle_gain;
    while (between.second - between.first > bisected_to_db) {
        const double middle = (between.first + between.second) / 2;
        auto down = tone.settled(start - 1);
        if (!down)
            return tl::make_unexpected(down.error());
        auto up = tone.settled(middle);
        if (!up)
            return tl::make_unexpected(up.error());
        const bool beyond = (acLevelDbfs(*up) - middle > middle_gain) == rises;
        (beyond ? between.second : between.first) = middle;
    }
    return (between.first + between.second) / 2;
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

/// Whether the second cycle after a step, up and down, is as loud as the settled tone.
FaultOr<bool> followsWithinACycle(SteppedTone& tone)
{
    for (const auto& [from, to] : {std::pair(-30.0, 0.0), {0.0, -30.0}}) {
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

void putLevelFigures(Reading& reading, const LevelFigures& figures)
{
    const bool bends = figures.kind != "linear";
    const std::string straight = "the gain is the same at every level";
    reading.figures["kind"] = figures.kind;
    reading.put("threshold_db", figures.threshold_db, straight);
    reading.put("ratio", figures.ratio,
                !bends                      ? straight
                : figures.kind == "limiter" ? "flatter than 20:1 above the threshold"
                                            : "the gain jumps instead of sloping");
    reading.put("knee_db", figures.knee_db, bends ? "the gain jumps instead of bending" : straight);
    reading.put("makeup_db", figures.makeup_db);
    reading.put("range_db", figures.range_db, straight);
    if (figures.misfit_db > poor_fit_db)
        reading.flags.push_back({"poor-fit", "the curve is " + std::to_string(figures.misfit_db) +
                                                 " dB RMS from one knee and one slope"});
}

void putSaturating(Reading& reading, const LevelCurve& curve)
{
    reading.figures["kind"] = "saturating";
    const std::string why = "the waveform is bent, not the level ridden";
    for (const char* key : {"threshold_db", "ratio", "knee_db"})
        reading.put(key, std::nullopt, why);
    reading.put("makeup_db", curve.front().second - curve.front().first);
    double range = 0;
    for (const auto& [in, out] : curve)
        range = std::max(range, std::abs(out - in - *reading.number("makeup_db")));
    reading.put("range_db", range);
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

FaultOr<Steps> stepThrough(SteppedTone& tone, Reading& reading, double rate_hz, double idle_dbfs)
{
    if (tone.leastHoldS() > long_hold_s) {
        // As many steps, wherever they begin.
        const double step_db =
            (tone.leastHoldS() > very_long_hold_s ? 7.5 : 5) * lowestLevel(idle_dbfs) / lowest_level_dbfs;
        auto coarse = runSteps(tone, rate_hz, step_db, idle_dbfs);
        if (!coarse || isStraight(*coarse)) {
            reading.conditions["step_db"] = step_db;
            return coarse;
        }
    }
    reading.conditions["step_db"] = 1;
    return runSteps(tone, rate_hz, 1, idle_dbfs);
}

/// (a): what the settled levels say.
FaultOr<void> putLevels(Reading& reading, Subject& subject)
{
    const double rate_hz = subject.conditions().sample_rate_hz;
    SteppedTone tone(subject, subject.conditions().frequency_hz.value_or(1000));
    reading.conditions = {{"frequency_hz", tone.frequencyHz()}};
    auto temper = getToKnow(tone);
    if (!temper)
        return tl::make_unexpected(temper.error());
    if (const std::string why = whyNoDynamics(*temper); !why.empty()) {
        for (const char* key : level_figures)
            reading.put(key, std::nullopt, why);
        return {};
    }
    reading.conditions["held_s"] = tone.leastHoldS();
    // Afresh, so that the first step does not stand in the tail of the tone before.
    if (auto started = subject.restart(); !started)
        return started;
    auto steps = stepThrough(tone, reading, rate_hz, temper->idle_dbfs);
    if (!steps)
        return tl::make_unexpected(steps.error());
    reading.series["in_out"] = {"input_dbfs", "output_dbfs", steps->curve};
    if (steps->curve.back().second <= silent_dbfs) {
        for (const char* key : level_figures)
            reading.put(key, std::nullopt, "the tone did not come through");
        return {};
    }
    reading.conditions["lowest_dbfs"] = steps->curve.front().first;
    LevelFigures figures = readLevelCurve(steps->curve, tone.noiseDb(steps->curve.front().first));
    bool bent = figures.kind != "linear" && steps->distortion_high_db > least_distortion_db &&
                steps->distortion_high_db > steps->distortion_low_db + distortion_rise_db;
    if (bent) {
        auto follows = followsWithinACycle(tone);
        if (!follows)
            return tl::make_unexpected(follows.error());
        bent = *follows;
    }
    if (figures.jump && !bent) {
        auto exact = bisect(tone, *figures.jump);
        if (!exact)
            return tl::make_unexpected(exact.error());
        figures.threshold_db = *exact;
    }
    if (bent)
        putSaturating(reading, steps->curve);
    else
        putLevelFigures(reading, figures);
    if (steps->curve.front().second <= silent_dbfs)
        reading.put("range_db", std::nullopt, "it closes to digital silence");
    if (tone.unsettled())
        reading.flags.push_back({"unsettled", "the output still moved after 10 s of a steady tone"});
    return {};
}

/// (b): the last of forty slow cycles, in against out.
FaultOr<void> putWaveform(Reading& reading, Subject& subject)
{
    constexpr double slow_hz = 20;
    constexpr std::size_t cycles = 40;
    /// A sine stays this near its peak for 2.8 % of its time; what stays longer is cut flat.
    constexpr double flat_within = 0.001;
    constexpr double flat_share = 0.05;
    constexpr std::size_t drawn_points = 480;
    const double rate_hz = subject.conditions().sample_rate_hz;
    const auto cycle = static_cast<std::size_t>(std::lround(rate_hz / slow_hz));
    if (auto started = subject.restart(); !started)
        return started;
    const auto in = signal::sine(rate_hz / static_cast<double>(cycle), 1, rate_hz, (cycles + 1) * cycle);
    auto answer = subject.process(in);
    if (!answer)
        return tl::make_unexpected(answer.error());
    const std::size_t latency = subject.latencyReportedSamples() % cycle; // every cycle is like the next
    const auto out = asDoubles(answer->channel(0).subspan((cycles - 1) * cycle + latency, cycle));
    const auto [low, high] = std::ranges::minmax(out);
    if (high < 1e-6 && low > -1e-6) {
        for (const char* key : {"clip_level_dbfs", "symmetry_db"})
            reading.put(key, std::nullopt, "a full-scale sine of 20 Hz did not come through");
        return {};
    }
    const auto shareNear = [&](double peak) {
        const auto near = std::ranges::count_if(
            out, [&](double s) { return std::abs(s - peak) < flat_within * std::abs(peak); });
        return static_cast<double>(near) / static_cast<double>(out.size());
    };
    std::optional<double> clip;
    for (const double peak : {high, low})
        if (std::abs(peak) > 1e-6 && shareNear(peak) > flat_share)
            clip = std::min(clip.value_or(std::abs(peak)), std::abs(peak));
    reading.put("clip_level_dbfs", clip ? std::optional(signal::linearToDb(*clip)) : std::nullopt,
                "the waveform is nowhere cut flat");
    reading.put("symmetry_db",
                high > 1e-6 && low < -1e-6 ? std::optional(signal::linearToDb(high) - signal::linearToDb(-low))
                                           : std::nullopt,
                "only one side comes through");
    Curve& series = reading.series["waveform"] = {"input", "output", {}};
    for (std::size_t i = 0; i < out.size(); i += std::max<std::size_t>(1, cycle / drawn_points))
        series.points.emplace_back(in[i], out[i]);
    return {};
}

} // namespace

const std::vector<FigureInfo>& transferFigures()
{
    const std::string knee_model = "D. Giannoulis, M. Massberg, J. Reiss, JAES 60, 2012";
    const std::string dynamics = "where the gain depends on the level";
    static const std::vector<FigureInfo> figures{
        {"kind",
         "what it does with levels",
         "",
         0,
         Better::Neither,
         {},
         "linear, compressor, limiter, expander, gate, upward or saturating",
         {},
         "where a steady tone has a steady answer",
         FigureShape::Word},
        {"threshold_db",
         "threshold",
         "dB",
         2,
         Better::Neither,
         {0.2, 0},
         "of the knee model fitted to the settled levels; where the gain jumps, the level at which it does",
         knee_model,
         dynamics},
        {"ratio",
         "ratio",
         ":1",
         2,
         Better::Neither,
         {0, 0.02},
         "input dB per output dB beyond the threshold",
         knee_model,
         dynamics},
        {"knee_db",
         "knee",
         "dB",
         1,
         Better::Neither,
         {1, 0},
         "width of the quadratic knee",
         knee_model,
         dynamics},
        {"makeup_db",
         "make-up",
         "dB",
         2,
         Better::Neither,
         {0.2, 0},
         "gain where the level is left alone",
         {},
         {}},
        {"range_db",
         "range",
         "dB",
         2,
         Better::Neither,
         {0.2, 0},
         "the largest change of the gain from its neutral value",
         {},
         dynamics},
        {"clip_level_dbfs",
         "clip level",
         "dBFS",
         2,
         Better::Neither,
         {0.2, 0},
         "peak of the output where a full-scale sine of 20 Hz is cut flat",
         {},
         "where it is cut flat"},
        {"symmetry_db",
         "symmetry",
         "dB",
         2,
         Better::NearZero,
         {0.2, 0},
         "peak of the positive half against that of the negative"}};
    return figures;
}

FaultOr<Reading> measureTransfer(Subject& subject)
{
    Reading reading;

    // (a) Levels, settled one after the other.
    if (auto done = putLevels(reading, subject); !done)
        return tl::make_unexpected(done.error());

    // (b) The waveform.
    if (auto done = putWaveform(reading, subject); !done)
        return tl::make_unexpected(done.error());
    return reading;
}

} // namespace hr::bench

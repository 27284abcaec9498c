// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/transfer.h"

#include "bench/figure_text.h"
#include "bench/level_tones.h"
#include "signal/generators.h"
#include "signal/levels.h"

#include <algorithm>
#include <cmath>

namespace hr::bench {

namespace {

using hosting::FaultOr;

void putLevelFigures(Reading& reading, const LevelFigures& figures)
{
    const bool bends = figures.kind != "linear";
    const std::string straight = "the gain is the same at every level";
    reading.figures["kind"] = figures.kind;
    const std::string outside = "the bend lies outside the levels that were tried";
    reading.put("threshold_db", figures.threshold_db, bends ? outside : straight);
    reading.put("ratio", figures.ratio,
                !bends                      ? straight
                : figures.kind == "limiter" ? "flatter than 20:1 above the threshold"
                                            : "the gain jumps instead of sloping");
    reading.put("knee_db", figures.knee_db,
                !bends         ? straight
                : figures.jump ? "the gain jumps instead of bending"
                               : outside);
    reading.put("makeup_db", figures.makeup_db);
    reading.put("range_db", figures.range_db, straight);
    if (figures.neutral_unseen)
        reading.flags.push_back({"poor-fit",
                                 "no level that is left alone is among those that were tried",
                                 {"threshold_db", "ratio", "knee_db", "makeup_db", "range_db"}});
    if (figures.other_end_nearer)
        reading.flags.push_back(
            {"poor-fit",
             "what is left alone may be the other end of the curve, which is nearer to 0 dB",
             {"kind", "threshold_db", "ratio", "knee_db", "makeup_db"}});
    if (figures.fitsPoorly())
        reading.flags.push_back(
            {"poor-fit",
             "the curve is " + numberText(figures.misfit_db, 2) + " dB RMS from one knee and one slope",
             {"threshold_db", "ratio", "knee_db", "makeup_db"}});
}

void putSaturating(Reading& reading, const SettledLevels& levels)
{
    reading.figures["kind"] = "saturating";
    const std::string why = "the waveform is bent, not the level ridden";
    for (const char* key : {"threshold_db", "ratio", "knee_db"})
        reading.put(key, std::nullopt, why);
    if (levels.inharmonic)
        reading.flags.push_back(
            {"inharmonic",
             "what comes out beside a tone is no harmonic of it: the sound is multiplied or "
             "sampled anew rather than bent",
             {"kind"}});
    const bool silent = levels.closes_to_silence;
    reading.put("makeup_db", silent ? std::nullopt : std::optional(levels.gainDb(0)),
                "the quietest tones do not come through");
    if (silent)
        return reading.put("range_db", std::nullopt, "the quietest tones do not come through");
    double range = 0;
    for (std::size_t i = 0; i < levels.curve.size(); ++i)
        range = std::max(range, std::abs(levels.gainDb(i) - levels.gainDb(0)));
    reading.put("range_db", range);
}

} // namespace

void putLevels(Reading& reading, const SettledLevels& levels)
{
    reading.conditions["frequency_hz"] = levels.frequency_hz;
    if (!levels.why_none.empty()) {
        for (const char* key :
             {"kind", "threshold_db", "closes_db", "ratio", "knee_db", "makeup_db", "range_db"})
            reading.put(key, std::nullopt, levels.why_none);
        return;
    }
    reading.conditions["held_s"] = levels.held_s;
    reading.conditions["step_db"] = levels.step_db;
    reading.conditions["lowest_dbfs"] = levels.curve.front().first;
    reading.series["in_out"] = {"input_dbfs", "output_dbfs", levels.curve};
    if (levels.saturating)
        putSaturating(reading, levels);
    else
        putLevelFigures(reading, levels.figures);
    if (levels.figures.model && !levels.saturating) {
        Curve& model = reading.series["model"] = {"input_dbfs", "output_dbfs", {}};
        for (const auto& [in, out] : levels.curve)
            model.points.emplace_back(in, in + levels.figures.model->gainDb(in));
    }
    reading.put("closes_db", levels.closes_db,
                levels.figures.jump ? "it closes where it opens" : "the gain does not jump");
    if (levels.closes_to_silence && !levels.saturating)
        reading.put("range_db", std::nullopt, "it closes to digital silence");
    if (levels.unsettled)
        reading.flags.push_back({"unsettled",
                                 "the output still moved after 10 s of a steady tone",
                                 {"threshold_db", "closes_db", "ratio", "knee_db", "makeup_db", "range_db"}});
}

namespace {

/// (b): the last of forty slow cycles, in against out.
FaultOr<void> putWaveform(Reading& reading, Subject& subject)
{
    constexpr double slow_hz = 20;
    constexpr std::size_t cycles = 40;
    /// A sine stays this near its peak for 2.8 % of its time; what stays longer is cut flat.
    constexpr double flat_within = 0.001;
    constexpr double flat_share = 0.05;
    constexpr double stepped_share = 0.15; // a sine spends half of its time below 0.7 of its peak
    constexpr std::size_t few_stops = 3;   // a dead zone stops twice, a rectifier once
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
    // What moves in steps stands still everywhere, not at its ends or around zero.
    std::size_t still = 0;
    std::size_t stops = 0;
    for (std::size_t i = 1; i < out.size(); ++i) {
        const bool within = std::abs(out[i]) < 0.7 * (out[i] < 0 ? -low : high);
        if (!within || out[i] != out[i - 1])
            continue;
        ++still;
        stops += i < 2 || out[i - 1] != out[i - 2] ? 1 : 0;
    }
    const bool stepped =
        stops > few_stops && static_cast<double>(still) > stepped_share * static_cast<double>(out.size());
    std::optional<double> clip;
    for (const double peak : {high, low})
        if (!stepped && std::abs(peak) > 1e-6 && shareNear(peak) > flat_share)
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
    const auto at = [](const std::string& key, const std::string& frequency) {
        return FigureInfo{.key = key,
                          .name = "at " + frequency,
                          .definition = "figures of this test with a tone of " + frequency,
                          .applies =
                              "where the gain changes by another amount there than at the frequency taken",
                          .shape = FigureShape::Numbers};
    };
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
        {.key = "closes_db",
         .name = "closes at",
         .unit = "dB",
         .allowed = {0.2, 0},
         .definition = "the level at which what has opened closes again, coming from above",
         .applies = "where it closes at least 0.5 dB below where it opens"},
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
         "peak of the positive half against that of the negative"},
        at("at_100_hz", "100 Hz"),
        at("at_1000_hz", "1 kHz"),
        at("at_6500_hz", "6.5 kHz")};
    return figures;
}

namespace {

/// At the other frequencies that were looked at, where the level is treated differently there.
void putElsewhere(Reading& reading, const SettledLevels& levels, bool asked)
{
    const std::string why_not = !levels.why_none.empty() ? levels.why_none
                                : asked                  ? "another frequency was asked for"
                                                         : "the gain does not change by another amount there";
    for (const double frequency_hz : level_tones_hz) {
        const std::string place = "at_" + std::to_string(std::lround(frequency_hz)) + "_hz";
        const auto there = std::ranges::find_if(levels.elsewhere, [&](const SettledLevels& other) {
            return std::abs(other.frequency_hz - frequency_hz) < 0.01 * frequency_hz; // whole in a stretch
        });
        if (there == levels.elsewhere.end()) {
            reading.put(place, std::nullopt, why_not);
            continue;
        }
        Reading other;
        putLevels(other, *there);
        for (Flag& flag : other.flags)
            flag.detail = "at " + std::to_string(std::lround(frequency_hz)) + " Hz " + flag.detail;
        reading.putGroup(place, other);
        if (const auto curve = other.series.find("in_out"); curve != other.series.end())
            reading.series["in_out_" + place] = curve->second;
    }
}

} // namespace

FaultOr<Reading> measureTransfer(Subject& subject)
{
    Reading reading;

    // (a) Levels, settled one after the other.
    auto levels = levelsOf(subject);
    if (!levels)
        return tl::make_unexpected(levels.error());
    putLevels(reading, **levels);
    putElsewhere(reading, **levels, subject.conditions().frequency_hz.has_value());

    // (b) The waveform.
    if (auto done = putWaveform(reading, subject); !done)
        return tl::make_unexpected(done.error());
    return reading;
}

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/movement.h"

#include "bench/extent.h"
#include "bench/level_tones.h"
#include "bench/modulation.h"
#include "bench/moving_notches.h"
#include "bench/steady_tone.h"
#include "signal/generators.h"
#include "signal/levels.h"

#include <algorithm>
#include <cmath>

namespace hr::bench {

namespace {

using hosting::FaultOr;

constexpr double carrier_hz = 2000;
constexpr double carrier_level_dbfs = -12;
constexpr double noise_level_dbfs = -30;
constexpr double least_settle_s = 5;
constexpr double settle_margin = 3;
constexpr double look_s = 12;
constexpr double long_look_s = 120;
/// Less stands still.
constexpr double least_depth_db = 0.05;
constexpr double least_depth_cents = 0.5;
constexpr double edges_part = 0.02;
/// A movement has a rate where so much of it repeats,
constexpr double rate_explained = 0.6;
/// and is looked at for longer where fewer periods were seen, or less of it repeats.
constexpr double enough_periods = 3;
constexpr double surely_explained = 0.9;
constexpr double same_rate = 0.01;
/// What repeats at a slower rate does not do so at a faster one where that explains so much less of it.
constexpr double explains_less = 0.75;
constexpr std::size_t most_notches = 200;
constexpr std::size_t drawn_paths = 12;
constexpr double drawn_periods = 8;
constexpr std::size_t drawn_points = 2000;

/// From this rate on it is looked at through shorter windows, which round less of it off; its many periods
/// are laid on one another, so that their noise does not matter.
constexpr double fast_hz = 10;
constexpr std::size_t short_window_cycles = 2;
/// Looks take a few milliseconds: from this rate on they round off what they see, or take it for something
/// slower.
constexpr double too_fast_hz = 140;

/// A quantity over time.
struct Looks {
    std::vector<double> values;
    double rate_hz = 1000; // of the values
};

/// What was found in it.
struct Movement {
    std::vector<double> curve;
    double rate_hz = 1000; // of the curve
    bool moves = false;
    std::optional<Periodicity> period; // where it has one
    double explained = 0;
    Extent extent;
};

/// `in_short` is the same through shorter windows.
Movement movementOf(Looks looks, Looks in_short, double least_depth)
{
    Movement movement{std::move(looks.values), looks.rate_hz, false, {}, 0, {}};
    // The edges of what jumps are no movement of their own.
    const Extent all = middleOf(movement.curve, edges_part);
    movement.moves = all.highest - all.lowest > least_depth;
    if (!movement.moves)
        return movement;
    const auto period = periodicityOf(movement.curve, movement.rate_hz);
    movement.explained = period ? period->explained : 0;
    if (movement.explained > rate_explained)
        movement.period = period;
    const auto steady_hz = movement.period ? std::optional(movement.period->rate_hz) : std::nullopt;
    if (steady_hz && *steady_hz >= fast_hz) {
        movement.curve = std::move(in_short.values);
        movement.rate_hz = in_short.rate_hz;
    }
    movement.extent = extentOf(movement.curve, movement.rate_hz, steady_hz);
    return movement;
}

/// Whether a longer look would tell more.
bool isUnsure(const Movement& movement)
{
    const double seconds = static_cast<double>(movement.curve.size()) / movement.rate_hz;
    return movement.moves && (!movement.period || movement.explained < surely_explained ||
                              movement.period->rate_hz * seconds < enough_periods);
}

/// What the tone was made into on each of the first two outputs.
struct Look {
    std::vector<Movement> level, pitch; // by channel
    double tone_hz = 0;
    double seconds = 0;
    bool came_through = false;
};

std::vector<double> inCents(std::vector<double> parts)
{
    for (double& part : parts)
        part = 1200 * std::log2(std::max(0.01, 1 + part));
    return parts;
}

Looks levelsOf(const Demodulated& curves)
{
    return {curves.level_db, curves.rate_hz};
}

Looks pitchesOf(const Demodulated& curves)
{
    return {inCents(curves.deviation_parts), curves.rate_hz};
}

/// `settled_s` before it is looked at.
FaultOr<Look> lookAt(Subject& subject, std::size_t cycle_frames, double level_dbfs, double settled_s,
                     double seconds)
{
    const double rate_hz = subject.conditions().sample_rate_hz;
    if (auto started = subject.restart(); !started)
        return tl::make_unexpected(started.error());
    const auto frames = [&](double s) {
        return static_cast<std::size_t>(s * rate_hz) / cycle_frames * cycle_frames;
    };
    const double tone_hz = rate_hz / static_cast<double>(cycle_frames);
    const auto tone =
        signal::sine(tone_hz, signal::dbToLinear(level_dbfs), rate_hz, frames(settled_s) + frames(seconds));
    auto out = subject.process(tone);
    if (!out)
        return tl::make_unexpected(out.error());
    Look look{{}, {}, tone_hz, seconds, false};
    for (std::size_t c = 0; c < std::min<std::size_t>(2, out->channels()); ++c) {
        const auto heard = asDoubles(std::as_const(*out).channel(c).subspan(frames(settled_s)));
        const Demodulated curves = demodulated(heard, cycle_frames, rate_hz);
        look.came_through = look.came_through || std::ranges::max(curves.level_db) > no_tone_dbfs;
        const Demodulated in_short = demodulated(heard, cycle_frames, rate_hz, short_window_cycles);
        look.level.push_back(movementOf(levelsOf(curves), levelsOf(in_short), least_depth_db));
        look.pitch.push_back(movementOf(pitchesOf(curves), pitchesOf(in_short), least_depth_cents));
    }
    return look;
}

/// The channel in which it is plainer.
const Movement& plainest(const std::vector<Movement>& channels)
{
    return *std::ranges::max_element(channels, {},
                                     [](const Movement& m) { return m.moves ? 1 + m.explained : 0; });
}

/// What travels up and down may pass a tone twice a period, or more often, evenly: its level moves more often
/// than what moves it. The look at one of two other tones, which it passes less evenly, where that tells so.
FaultOr<std::optional<Look>> slowerElsewhere(Subject& subject, const Look& look, double level_dbfs,
                                             double settled_s)
{
    const double tone_rate_hz = plainest(look.level).period->rate_hz;
    const double enough_s = std::min(look.seconds, std::max(look_s, 2 * enough_periods / tone_rate_hz));
    double times = 1;
    std::optional<Look> slower;
    for (const double elsewhere : {0.45, 1.9}) {
        const double cycle_frames = subject.conditions().sample_rate_hz / (elsewhere * look.tone_hz);
        auto other = lookAt(subject, static_cast<std::size_t>(std::max(2.0, std::round(cycle_frames))),
                            level_dbfs, settled_s, enough_s);
        if (!other)
            return tl::make_unexpected(other.error());
        const Movement& moved = plainest(other->level);
        const double ratio = moved.period ? tone_rate_hz / moved.period->rate_hz : 1;
        const bool more_often =
            std::round(ratio) > times && std::abs(ratio / std::round(ratio) - 1) < same_rate;
        if (more_often && explainedAt(moved.curve, moved.rate_hz, tone_rate_hz) <
                              explains_less * explainedAt(moved.curve, moved.rate_hz, moved.period->rate_hz)) {
            times = std::round(ratio);
            slower = std::move(*other);
        }
    }
    return slower;
}

std::string whyNoRate(const Movement& movement, const std::string& still)
{
    return movement.moves ? "what moves it does not repeat within two minutes" : still;
}

void putStereoPhase(Reading& reading, const std::vector<Movement>& channels)
{
    const Movement& plain = plainest(channels);
    const bool both = channels.size() == 2 && plain.period && channels[0].moves && channels[1].moves &&
                      channels[0].rate_hz == channels[1].rate_hz;
    if (!both) {
        reading.put("stereo_phase_deg", std::nullopt,
                    channels.size() < 2 ? "it has one output" : "not both outputs move, or at no steady rate");
        return;
    }
    reading.put("stereo_phase_deg",
                apartDeg(channels[0].curve, channels[1].curve, plain.rate_hz, plain.period->rate_hz));
}

/// Some periods of what has a rate, so that they can be told apart; of what has none all there is.
double drawnSeconds(const Movement& level, const Movement& pitch)
{
    double seconds = 0;
    for (const Movement* one : {&level, &pitch})
        if (one->moves)
            seconds = std::max(seconds, one->period ? drawn_periods / one->period->rate_hz : long_look_s);
    return seconds > 0 ? seconds : long_look_s;
}

void putTone(Reading& reading, const Look& look)
{
    const Movement& level = plainest(look.level);
    const Movement& pitch = plainest(look.pitch);
    const std::string steady_level = "the level of a steady tone stands still";
    const std::string steady_pitch = "the pitch of a steady tone stands still";
    const auto rateOf = [](const Movement& m) {
        return m.period ? std::optional(m.period->rate_hz) : std::nullopt;
    };
    reading.put("amplitude_rate_hz", rateOf(level), whyNoRate(level, steady_level));
    reading.put("amplitude_depth_db",
                level.moves ? std::optional(level.extent.highest - level.extent.lowest) : std::nullopt,
                steady_level);
    if (std::max(rateOf(level).value_or(0), rateOf(pitch).value_or(0)) > too_fast_hz)
        reading.flags.push_back(
            {"fast-movement",
             "it moves nearly as fast as it can be looked at: its depth is more, its rate may be",
             {"amplitude_rate_hz", "amplitude_depth_db"}});
    reading.put("pitch_rate_hz", rateOf(pitch), whyNoRate(pitch, steady_pitch));
    reading.put("pitch_depth_cents", pitch.moves ? std::optional(pitch.extent.highest) : std::nullopt,
                steady_pitch);
    std::optional<double> flutter;
    if (pitch.moves) {
        std::vector<double> parts = pitch.curve;
        for (double& cents : parts)
            cents = std::exp2(cents / 1200) - 1;
        flutter = wowAndFlutterPercent(parts, pitch.rate_hz);
    }
    reading.put("wow_flutter_percent", flutter, steady_pitch);
    putStereoPhase(reading, level.moves ? look.level : look.pitch);
    const bool moves = level.moves || pitch.moves;
    const double explained = std::max(level.moves ? level.explained : 0, pitch.moves ? pitch.explained : 0);
    reading.put("randomness", moves ? std::optional(1 - explained) : std::nullopt,
                "a steady tone stands still");

    const double drawn_s = drawnSeconds(level, pitch);
    for (const auto& [name, unit, movement] :
         {std::tuple("amplitude", "level_dbfs", &level), {"pitch", "pitch_cents", &pitch}}) {
        Curve& curve = reading.series[name] = {"time_s", unit, {}};
        const std::size_t values =
            std::min(movement->curve.size(), static_cast<std::size_t>(drawn_s * movement->rate_hz) + 1);
        const std::size_t step = std::max<std::size_t>(1, values / drawn_points);
        for (std::size_t i = 0; i < values; i += step)
            curve.points.emplace_back(static_cast<double>(i) / movement->rate_hz, movement->curve[i]);
    }
}

void putNotches(Reading& reading, const NotchPaths& paths)
{
    const bool moving = paths.travels && paths.count > 0 && paths.count <= most_notches;
    reading.put("notch_count", moving ? std::optional(static_cast<double>(paths.count)) : std::nullopt,
                paths.unsure ? "two sweeps do not agree on notches that travel"
                             : "no notches are seen to travel");
    for (std::size_t n = 0; moving && n < std::min(paths.count, drawn_paths); ++n) {
        Curve& curve = reading.series["notch_" + std::to_string(n + 1)] = {"time_s", "frequency_hz", {}};
        for (std::size_t look = 0; look < paths.notches_hz.size(); ++look)
            if (paths.notches_hz[look].size() == paths.count)
                curve.points.emplace_back(static_cast<double>(look) * paths.step_s, paths.notches_hz[look][n]);
    }
}

} // namespace

const std::vector<FigureInfo>& movementFigures()
{
    const std::string level_moves = "where the level of a steady tone moves";
    const std::string pitch_moves = "where the pitch of a steady tone moves";
    static const std::vector<FigureInfo> figures{
        {.key = "amplitude_rate_hz",
         .name = "rate of the level",
         .unit = "Hz",
         .digits = 3,
         .allowed = {0, 0.01},
         .definition = "how often a second the movement of the level repeats",
         .applies = level_moves,
         .in_lists = true},
        {.key = "amplitude_depth_db",
         .name = "depth of the level",
         .unit = "dB",
         .digits = 2,
         .allowed = {0, 0.02},
         .definition = "from the lowest to the highest level, over all its periods laid on one another",
         .applies = level_moves},
        {.key = "pitch_rate_hz",
         .name = "rate of the pitch",
         .unit = "Hz",
         .digits = 3,
         .allowed = {0, 0.01},
         .definition = "how often a second the movement of the pitch repeats",
         .applies = pitch_moves},
        {.key = "pitch_depth_cents",
         .name = "depth of the pitch",
         .unit = "cent",
         .digits = 1,
         .allowed = {0, 0.02},
         .definition = "the highest pitch above that of the tone",
         .applies = pitch_moves},
        {.key = "wow_flutter_percent",
         .name = "wow and flutter",
         .unit = "%",
         .digits = 3,
         .better = Better::Lower,
         .allowed = {0, 0.02},
         .definition = "weighted deviation of the frequency that is exceeded for 5 % of the time",
         .source = "IEC 60386:1972",
         .applies = pitch_moves},
        {.key = "stereo_phase_deg",
         .name = "phase between the sides",
         .unit = "deg",
         .digits = 1,
         .allowed = {2, 0},
         .definition =
             "by how much of a period the movement of one output is behind that of the other, 0 to 180",
         .applies = "where both outputs move at a steady rate"},
        {.key = "notch_count",
         .name = "notches that travel",
         .digits = 0,
         .definition = "lows of 6 dB and more in the response over time, as most looks have them",
         .applies = "where notches travel"},
        {.key = "randomness",
         .name = "randomness",
         .digits = 2,
         .definition = "share of the movement that does not repeat: 0 periodic, 1 like noise",
         .applies = "where a steady tone moves"}};
    return figures;
}

FaultOr<Reading> measureMovement(Subject& subject)
{
    const double rate_hz = subject.conditions().sample_rate_hz;
    const double level_dbfs = subject.conditions().level_dbfs.value_or(carrier_level_dbfs);
    const double asked_hz = subject.conditions().frequency_hz.value_or(carrier_hz);
    const auto cycle_frames = static_cast<std::size_t>(std::max(2.0, std::round(rate_hz / asked_hz)));

    // Echoes may take longer than most to add up to a steady tone.
    const auto settling = settlingS(subject, asked_hz, level_dbfs);
    if (!settling)
        return tl::make_unexpected(settling.error());
    const double settled_s = std::max(least_settle_s, settle_margin * *settling);

    Reading reading;
    auto look = lookAt(subject, cycle_frames, level_dbfs, settled_s, look_s);
    if (!look)
        return tl::make_unexpected(look.error());
    double seconds = look_s;
    if (look->came_through && (isUnsure(plainest(look->level)) || isUnsure(plainest(look->pitch)))) {
        seconds = long_look_s;
        look = lookAt(subject, cycle_frames, level_dbfs, settled_s, seconds);
        if (!look)
            return tl::make_unexpected(look.error());
    }
    const auto tellConditions = [&] {
        reading.conditions = {
            {"frequency_hz", look->tone_hz}, {"level_dbfs", level_dbfs}, {"seconds", look->seconds}};
    };
    tellConditions();
    if (!look->came_through) {
        putNone(reading, movementFigures(), "the tone did not come through");
        return reading;
    }
    // What travels moves a tone, too; in what stands still the many lows of a room or a long comb are none.
    NotchPaths paths;
    if (plainest(look->level).moves || plainest(look->pitch).moves) {
        auto found = notchPaths(subject, noise_level_dbfs, seconds);
        if (!found)
            return tl::make_unexpected(found.error());
        paths = std::move(*found);
    }
    // What travels moves the pitch as well; what only turns the level up and down moves it alike at every tone.
    // Who asked for a tone is told of that one.
    const bool any_tone = !subject.conditions().frequency_hz;
    if (any_tone && plainest(look->level).period && (paths.travels || plainest(look->pitch).moves)) {
        auto slower = slowerElsewhere(subject, *look, level_dbfs, settled_s);
        if (!slower)
            return tl::make_unexpected(slower.error());
        if (*slower) {
            look = std::move(**slower);
            tellConditions();
        }
    }
    putTone(reading, *look);
    putNotches(reading, paths);
    return reading;
}

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/timing.h"

#include "bench/gain_trace.h"
#include "bench/level_tones.h"
#include "signal/levels.h"

#include <algorithm>
#include <cmath>
#include <span>

namespace hr::bench {

namespace {

using hosting::FaultOr;

constexpr double depth_db = 20;
constexpr double clear_of_bend_db = 3;
constexpr double highest_dbfs = 12;
/// A gain that changes by less across the bend has no times to speak of.
constexpr double least_change_db = 0.5;
constexpr double longest_release_s = 60;
constexpr double is_back_within = 0.002; // of the change
constexpr double overshoot_s = 0.005;
/// A gain that moves so long before the step comes out looks ahead.
constexpr double ahead_s = 0.0005;
constexpr double shortest_hold_ms = 3;
constexpr double one_time_constant = 0.632;
/// Two releases differ where they do by this part and this many ms.
constexpr double differs_by = 0.15;
constexpr double differs_by_ms = 1;

struct Levels {
    double low = 0, high = 0;
};

/// On both sides of the bend, `depth_db` into the part that is not left alone.
Levels acrossBend(const SettledLevels& levels, double depth)
{
    const LevelFigures& figures = levels.figures;
    const double threshold = figures.threshold_db.value_or(-20);
    const double knee = figures.knee_db.value_or(0);
    const double lowest = levels.curve.front().first;
    const bool below =
        figures.kind == "gate" || figures.kind == "upward" ||
        (figures.kind == "expander" && levels.gainDb(levels.curve.size() - 1) >= levels.gainDb(0) &&
         std::abs(levels.gainDb(levels.curve.size() - 1) - figures.makeup_db.value_or(0)) < 0.5);
    if (below)
        return {std::max(lowest, std::min(threshold, levels.closes_db.value_or(threshold)) - depth),
                std::min(highest_dbfs, threshold + knee / 2 + clear_of_bend_db)};
    return {std::max(lowest, threshold - knee / 2 - clear_of_bend_db),
            std::min(std::max(0.0, threshold + 6), threshold + std::max(depth, knee / 2 + clear_of_bend_db))};
}

/// Up and down once: the gains at each sample from the steps on.
struct UpAndDown {
    std::vector<double> up_db, down_db;
    std::size_t arrives = 0;                  // the frame at which a step comes out
    double low_gain_db = 0, high_gain_db = 0; // settled
    bool is_back = false;
};

class Stepper {
public:
    Stepper(SteppedTone& tone, SteppedCycle cycle) : m_tone(tone), m_cycle(cycle) {}

    FaultOr<UpAndDown> run(const Levels& levels)
    {
        UpAndDown both;
        auto before = m_tone.held(levels.low);
        if (!before)
            return tl::make_unexpected(before.error());
        both.arrives = m_cycle.latency_frames;
        both.low_gain_db = settledDb(trace(*before, levels.low, levels.low));
        auto up = m_tone.held(levels.high);
        if (!up)
            return tl::make_unexpected(up.error());
        both.up_db = trace(*up, levels.low, levels.high);
        both.high_gain_db = settledDb(both.up_db);
        both.up_db = withoutRinging(std::move(both.up_db), {both.low_gain_db, both.high_gain_db}, m_cycle);
        auto down = untilBack(levels.low, both);
        if (!down)
            return tl::make_unexpected(down.error());
        both.down_db = withoutRinging(trace(*down, levels.high, levels.low),
                                      {both.high_gain_db, both.low_gain_db}, m_cycle);
        return both;
    }

private:
    std::vector<double> trace(const std::vector<double>& answer, double before_dbfs, double level_dbfs)
    {
        SteppedCycle cycle = m_cycle;
        const bool main = m_tone.input() == SteppedInput::Main;
        cycle.before_dbfs = main ? before_dbfs : SteppedTone::main_level_dbfs;
        cycle.level_dbfs = main ? level_dbfs : SteppedTone::main_level_dbfs;
        return gainTrace(answer, cycle);
    }

    /// Mean of the last 20 ms.
    double settledDb(const std::vector<double>& gain_db) const
    {
        const auto count = std::min(gain_db.size(), static_cast<std::size_t>(0.02 * m_cycle.sample_rate_hz));
        double sum = 0;
        for (std::size_t i = gain_db.size() - count; i < gain_db.size(); ++i)
            sum += gain_db[i] / static_cast<double>(count);
        return sum;
    }

    /// A gain that holds stands still before it moves: only its old value tells that it is back.
    FaultOr<std::vector<double>> untilBack(double level_dbfs, UpAndDown& both)
    {
        const double within = is_back_within * std::abs(both.high_gain_db - both.low_gain_db);
        std::vector<double> all;
        std::size_t back = 0;
        while (back < 3 && static_cast<double>(all.size()) < longest_release_s * m_cycle.sample_rate_hz) {
            auto part = m_tone.stretch(level_dbfs);
            if (!part)
                return part;
            all.insert(all.end(), part->begin(), part->end());
            const double now = m_tone.answerDbfs(level_dbfs, acLevelDbfs(*part)) - level_dbfs;
            back = std::abs(now - both.low_gain_db) < within ? back + 1 : 0;
        }
        both.is_back = back == 3;
        return all;
    }

    SteppedTone& m_tone;
    SteppedCycle m_cycle;
};

/// Seconds from which a change is counted: where the step comes out or, where the gain moves before that (it
/// looks ahead), where it begins to; and how long it stood still after the step.
struct Beginning {
    double from_s = 0, stood_s = 0;
};

Beginning beginningOf(const std::vector<double>& gain_db, const GainChange& change, std::size_t arrives,
                      double rate_hz)
{
    const double arrives_s = static_cast<double>(arrives) / rate_hz;
    const auto stood_s = standstillOf(gain_db, change, rate_hz);
    const double moves_s = stood_s.value_or(timeOf(gain_db, change, 0.01, rate_hz).value_or(arrives_s));
    if (moves_s < arrives_s - ahead_s)
        return {moves_s, 0};
    return {arrives_s, stood_s ? *stood_s - arrives_s : 0};
}

std::optional<double> timeFrom(const std::vector<double>& gain_db, const GainChange& change, double share,
                               double from_s, double rate_hz)
{
    const auto reached_s = timeOf(gain_db, change, share, rate_hz);
    return reached_s ? std::optional(1000 * std::max(0.0, *reached_s - from_s)) : std::nullopt;
}

void putTimesInUse(Timed& timed, const UpAndDown& steps, const SettledLevels& levels, const Levels& across,
                   double rate_hz)
{
    const auto& model = levels.figures.model;
    const GainChange up{steps.low_gain_db, steps.high_gain_db};
    const GainChange down{steps.high_gain_db, steps.low_gain_db};
    const double up_s = beginningOf(steps.up_db, up, steps.arrives, rate_hz).from_s;
    const Beginning begins = beginningOf(steps.down_db, down, steps.arrives, rate_hz);
    timed.attack = timesInUse(steps.up_db, up, up_s, rate_hz, {model, across.low, across.high});
    timed.release = timesInUse(steps.down_db, down, begins.from_s + begins.stood_s, rate_hz,
                               {model, across.high, across.low});
}

struct Release {
    std::optional<double> to_63_ms, to_90_ms, hold_ms;
};

/// Counted from where the gain begins to recover.
Release releaseOf(const UpAndDown& steps, double rate_hz)
{
    const GainChange change{steps.high_gain_db, steps.low_gain_db};
    const Beginning begins = beginningOf(steps.down_db, change, steps.arrives, rate_hz);
    const double from_s = begins.from_s + begins.stood_s;
    return {timeFrom(steps.down_db, change, one_time_constant, from_s, rate_hz),
            timeFrom(steps.down_db, change, 0.9, from_s, rate_hz), 1000 * begins.stood_s};
}

void putUp(Reading& reading, const UpAndDown& steps, double rate_hz)
{
    const GainChange change{steps.low_gain_db, steps.high_gain_db};
    const std::string never = "the gain had not got there when it was left";
    const double from_s = beginningOf(steps.up_db, change, steps.arrives, rate_hz).from_s;
    reading.put("attack_ms", timeFrom(steps.up_db, change, one_time_constant, from_s, rate_hz), never);
    reading.put("attack_90_ms", timeFrom(steps.up_db, change, 0.9, from_s, rate_hz), never);
    const std::size_t arrives = std::min(steps.arrives, steps.up_db.size() - 1);
    const auto early = std::min(steps.up_db.size() - arrives, static_cast<std::size_t>(overshoot_s * rate_hz));
    const double highest =
        std::ranges::max(std::span(steps.up_db).subspan(arrives, std::max<std::size_t>(1, early)));
    reading.put("overshoot_db", std::max(0.0, highest - steps.high_gain_db));
}

void putDown(Reading& reading, const Release& release)
{
    const std::string never = "the gain had not got there after 60 s";
    reading.put("release_ms", release.to_63_ms, never);
    reading.put("release_90_ms", release.to_90_ms, never);
    reading.put("hold_ms", release.hold_ms > shortest_hold_ms ? release.hold_ms : std::nullopt,
                "the gain begins to recover within 3 ms, as that of any peak detector does");
}

/// Points enough to draw, time 0 at the step up.
void putCurve(Reading& reading, const UpAndDown& steps, double rate_hz)
{
    Curve& curve = reading.series["gain"] = {"time_ms", "gain_db", {}};
    const std::size_t step = std::max<std::size_t>(static_cast<std::size_t>(rate_hz / 4000),
                                                   (steps.up_db.size() + steps.down_db.size()) / 3000);
    std::size_t n = 0;
    for (const auto* part : {&steps.up_db, &steps.down_db})
        for (std::size_t i = 0; i < part->size(); ++i, ++n)
            if (n % step == 0)
                curve.points.emplace_back(1000 * static_cast<double>(n) / rate_hz, (*part)[i]);
}

/// Where on it attack and release were read: a point each.
void putMarks(Reading& reading, const UpAndDown& steps, double rate_hz)
{
    const GainChange up{steps.low_gain_db, steps.high_gain_db};
    const GainChange down{steps.high_gain_db, steps.low_gain_db};
    const double up_ms = 1000 * static_cast<double>(steps.up_db.size()) / rate_hz;
    const auto put = [&](const char* key, const std::vector<double>& gain_db, const GainChange& change,
                         double from_ms) {
        if (const auto at_s = timeOf(gain_db, change, one_time_constant, rate_hz))
            reading.series[key] = {"time_ms",
                                   "gain_db",
                                   {{from_ms + 1000 * *at_s,
                                     change.from_db + one_time_constant * (change.to_db - change.from_db)}}};
    };
    put("attack_at", steps.up_db, up, 0);
    put("release_at", steps.down_db, down, up_ms);
}

std::string whyNoTimes(const SettledLevels& levels)
{
    if (!levels.why_none.empty())
        return levels.why_none;
    return levels.saturating ? "the waveform is bent, not the level ridden"
                             : "the gain is the same at every level";
}

} // namespace

const std::vector<FigureInfo>& timingFigures()
{
    const std::string dynamics = "where the gain depends on the level";
    const AllowedError time{0.5, 0.05};
    static const std::vector<FigureInfo> figures{
        {.key = "attack_ms",
         .name = "attack",
         .unit = "ms",
         .digits = 2,
         .allowed = time,
         .definition = "after a step up across the threshold: time for 63.2 % of the change of gain in dB; of "
                       "what looks ahead, from where the gain begins to move",
         .applies = dynamics,
         .in_lists = true},
        {.key = "attack_90_ms",
         .name = "attack to 90 %",
         .unit = "ms",
         .digits = 2,
         .allowed = time,
         .definition = "from a step up until 90 % of the change of gain in dB is done",
         .applies = dynamics},
        {.key = "release_ms",
         .name = "release",
         .unit = "ms",
         .digits = 1,
         .allowed = time,
         .definition =
             "after the step down, from the end of its hold: time for 63.2 % of the change of gain in dB",
         .applies = dynamics,
         .in_lists = true},
        {.key = "release_90_ms",
         .name = "release to 90 %",
         .unit = "ms",
         .digits = 1,
         .allowed = time,
         .definition = "from a step down until 90 % of the change of gain in dB is undone",
         .applies = dynamics},
        {.key = "hold_ms",
         .name = "hold",
         .unit = "ms",
         .digits = 1,
         .allowed = time,
         .definition = "from the step down until the gain begins to recover",
         .applies = "where that takes 3 ms or more"},
        {.key = "overshoot_db",
         .name = "overshoot",
         .unit = "dB",
         .digits = 2,
         .better = Better::Lower,
         .allowed = {0.2, 0},
         .definition = "how far the level in the first 5 ms after the step up stands above its settled value",
         .applies = dynamics},
        {.key = "release_depends_on_depth",
         .name = "release depends on depth",
         .digits = 0,
         .definition = "whether the release from a third of the depth takes another time, by 15 % and 1 ms",
         .applies = dynamics,
         .shape = FigureShape::YesNo}};
    return figures;
}

FaultOr<void> putTiming(Timed& timed, Subject& subject, SteppedTone& tone, const SettledLevels& levels)
{
    Reading& reading = timed.reading;
    if (!levels.isDynamic()) {
        putNone(reading, timingFigures(), whyNoTimes(levels));
        return {};
    }
    const double rate_hz = subject.conditions().sample_rate_hz;
    const Levels deep = acrossBend(levels, depth_db);
    auto latency = subject.findLatency(); // leaves it freshly started
    if (!latency)
        return tl::make_unexpected(latency.error());
    Stepper stepper(tone, {.frequency_hz = tone.frequencyHz(),
                           .sample_rate_hz = rate_hz,
                           .latency_frames = latency->value_or(subject.latencyReportedSamples())});
    auto steps = stepper.run(deep);
    if (!steps)
        return tl::make_unexpected(steps.error());
    reading.conditions["frequency_hz"] = tone.frequencyHz();
    reading.conditions["low_dbfs"] = deep.low;
    reading.conditions["high_dbfs"] = deep.high;
    if (std::abs(steps->high_gain_db - steps->low_gain_db) < least_change_db) {
        putNone(reading, timingFigures(), "the gain changes by less than 0.5 dB across the threshold");
        return {};
    }
    const Release release = releaseOf(*steps, rate_hz);
    putUp(reading, *steps, rate_hz);
    putDown(reading, release);
    putCurve(reading, *steps, rate_hz);
    putMarks(reading, *steps, rate_hz);
    putTimesInUse(timed, *steps, levels, deep, rate_hz);
    if (!steps->is_back)
        reading.flags.push_back({"unsettled",
                                 "the gain was not back 60 s after the step down",
                                 {"release_ms", "release_90_ms", "hold_ms", "release_depends_on_depth"}});

    auto shallow = stepper.run(acrossBend(levels, depth_db / 3));
    if (!shallow)
        return tl::make_unexpected(shallow.error());
    const bool changes = std::abs(shallow->high_gain_db - shallow->low_gain_db) > least_change_db;
    const Release other = changes ? releaseOf(*shallow, rate_hz) : Release{};
    if (release.to_63_ms && other.to_63_ms) {
        const double apart = std::abs(*release.to_63_ms - *other.to_63_ms);
        reading.figures["release_depends_on_depth"] =
            apart > differs_by_ms && apart > differs_by * std::max(*release.to_63_ms, *other.to_63_ms);
    } else
        reading.put("release_depends_on_depth", std::nullopt, "a third of the depth hardly changes the gain");
    return {};
}

FaultOr<Timed> timingInUse(Subject& subject)
{
    Timed timed;
    auto levels = levelsOf(subject);
    if (!levels)
        return tl::make_unexpected(levels.error());
    SteppedTone tone(subject, (*levels)->frequency_hz);
    if ((*levels)->isDynamic())
        if (auto known = tone.getToKnow(acrossBend(**levels, depth_db).high); !known)
            return tl::make_unexpected(known.error());
    if (auto done = putTiming(timed, subject, tone, **levels); !done)
        return tl::make_unexpected(done.error());
    return timed;
}

FaultOr<Reading> measureTiming(Subject& subject)
{
    return timingInUse(subject).map([](Timed timed) { return std::move(timed.reading); });
}

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/echoes.h"

#include "bench/arrivals.h"
#include "bench/excess_phase.h"
#include "bench/feedback_loop.h"
#include "bench/impulse.h"
#include "bench/latency.h"
#include "bench/linear_level.h"
#include "processors/note_value.h"
#include "signal/levels.h"

#include <algorithm>
#include <cmath>
#include <span>

namespace hr::bench {

namespace {

using hosting::FaultOr;

constexpr double longest_echo_s = 30;
/// Echoes are distinct where so much of what comes later lies in them.
constexpr double least_explained = 0.5;
/// And the envelope falls by this between them; that of noise by some 10 dB.
constexpr double least_fall_db = 15;
constexpr double same_time_samples = 3;
constexpr double same_step_db = 8; // a filter in the loop takes most from the first repeats
/// When an echo came is looked for so far around its highest point, which lies by so much after it at most.
constexpr double before_s = 0.005;
constexpr double after_s = 0.02;
constexpr double latest_peak_s = 0.003;
constexpr double near_s = 0.00025;
/// A loop that filters nothing takes as much from the level of an echo as it feeds back.
constexpr double same_feedback_db = 0.1;

using Responses = std::vector<std::vector<double>>;

double levelDb(const Arrival& arrival)
{
    return signal::powerToDb(arrival.power);
}

/// The echo that comes `gap` later than `from`; null where there is none.
const Arrival* laterBy(const std::vector<Arrival>& echoes, const Arrival& from, double gap)
{
    const auto found = std::ranges::find_if(
        echoes, [&](const Arrival& echo) { return std::abs(echo.at - from.at - gap) <= same_time_samples; });
    return found == echoes.end() ? nullptr : &*found;
}

struct Repeat {
    double gap_samples = 0;
    const Arrival* first = nullptr;  // the strongest that is repeated
    const Arrival* second = nullptr; // its repeat
    std::size_t count = 0;           // of pairs so far apart
};

/// How often each is followed by a weaker one after `gap`, each time by about the same step.
Repeat repeatAfter(const std::vector<Arrival>& echoes, double gap)
{
    Repeat repeat{gap};
    std::optional<double> step_db;
    for (const Arrival& echo : echoes) {
        const Arrival* later = laterBy(echoes, echo, gap);
        if (!later)
            continue;
        const double falls_db = levelDb(echo) - levelDb(*later);
        const bool uneven = step_db && std::abs(falls_db - *step_db) > same_step_db;
        if (falls_db < 0.05 || (uneven && repeat.count > 1)) // the first may come before the loop's filter
            continue;
        step_db = falls_db;
        ++repeat.count;
        if (!repeat.first || echo.power > repeat.first->power) {
            repeat.first = &echo;
            repeat.second = later;
        }
    }
    return repeat;
}

/// The gap after which most are repeated; of equals the shortest. Two alone are a repeat only where the first
/// came as late after the input.
std::optional<Repeat> findRepeat(const std::vector<Arrival>& echoes, double input_at)
{
    Repeat best;
    for (std::size_t i = 0; i < echoes.size(); ++i)
        for (std::size_t j = i + 1; j < echoes.size(); ++j) {
            const Repeat repeat = repeatAfter(echoes, echoes[j].at - echoes[i].at);
            if (repeat.count > best.count ||
                (repeat.count == best.count && repeat.gap_samples < best.gap_samples))
                best = repeat;
        }
    const bool once =
        best.count == 1 && std::abs(echoes.front().at - input_at - best.gap_samples) <= 2 * same_time_samples;
    // Of what repeats evenly nearly every one is followed by the next; taps of a room happen to be.
    const bool many = best.count >= 2 && 2 * best.count + 1 >= echoes.size();
    if (!many && !once)
        return std::nullopt;
    return best;
}

/// What a response a gap later owes to what it was, by least squares over all of it from the first on.
double shareRepeated(const Responses& responses, const Repeat& repeat)
{
    const auto gap = static_cast<std::size_t>(std::lround(repeat.gap_samples));
    const auto from = static_cast<std::size_t>(std::max(0.0, repeat.first->at - repeat.gap_samples / 2));
    double both = 0;
    double before = 0;
    for (const auto& response : responses)
        for (std::size_t i = from; i + gap < response.size() / 2; ++i) {
            both += response[i] * response[i + gap];
            before += response[i] * response[i];
        }
    return before > 0 ? both / before : 0;
}

/// When an echo came: its filter makes it duller, not later. `from` and `until` are the echoes on either side.
double cameAt(const Responses& responses, const Arrival& echo, double from, double until, double rate_hz)
{
    const double begin = std::max({0.0, (from + echo.at) / 2, echo.at - before_s * rate_hz});
    const double end = std::min((until + echo.at) / 2, echo.at + after_s * rate_hz);
    const auto& loudest = *std::ranges::max_element(
        responses, {}, [&](const auto& response) { return powerAround(response, echo.at, rate_hz); });
    const auto first = static_cast<std::size_t>(std::lround(begin));
    const auto count = static_cast<std::size_t>(std::lround(end)) - first;
    const ExcessPhase excess(std::span<const double>(loudest).subspan(first, count));
    const auto came = excess.delay(static_cast<std::size_t>(near_s * rate_hz));
    const double at = came ? std::round(begin) + *came : echo.at;
    const bool filtered = at < echo.at - 1 && at > echo.at - latest_peak_s * rate_hz;
    return filtered ? at : echo.at;
}

struct Echoes {
    std::vector<Arrival> list;
    std::optional<double> gap_samples; ///< empty: none is repeated
    std::optional<double> feedback_db;
    bool doubtful = false;
};

/// Of what is no feedback loop: each by when it came, as loud as on the loudest of the outputs, since one that
/// goes from side to side is on one. What still repeats is in doubt where a filter, or anything else, is seen
/// in it.
Echoes echoesAmong(const Responses& responses, const std::vector<Arrival>& arrivals, double direct_at,
                   double input_at, double rate_hz)
{
    Echoes echoes{arrivals, {}, {}, false};
    for (std::size_t i = 0; i < arrivals.size(); ++i) {
        const double before = i > 0 ? arrivals[i - 1].at : direct_at;
        const double after =
            i + 1 < arrivals.size() ? arrivals[i + 1].at : static_cast<double>(responses[0].size());
        echoes.list[i].at = cameAt(responses, arrivals[i], before, after, rate_hz);
    }
    if (const auto repeat = findRepeat(echoes.list, input_at)) {
        const double step_db = levelDb(*repeat->second) - levelDb(*repeat->first);
        const double repeated_db = signal::linearToDb(std::abs(shareRepeated(responses, *repeat)));
        const bool filtered = !std::ranges::equal(echoes.list, arrivals, {}, &Arrival::at, &Arrival::at);
        echoes.gap_samples = repeat->gap_samples;
        echoes.feedback_db = step_db;
        echoes.doubtful = filtered || std::abs(repeated_db - step_db) > same_feedback_db;
    }
    for (std::size_t i = 0; i < arrivals.size(); ++i) {
        echoes.list[i].power = 0;
        for (const auto& response : responses)
            echoes.list[i].power =
                std::max(echoes.list[i].power, powerAround(response, arrivals[i].at, rate_hz));
    }
    return echoes;
}

void putDivision(Reading& reading, std::optional<double> time_ms, std::optional<double> tempo_bpm)
{
    const auto division = time_ms && tempo_bpm ? processors::noteValue(*time_ms, *tempo_bpm) : std::nullopt;
    if (division)
        reading.figures["division"] = *division;
    else
        reading.put("division", std::nullopt,
                    tempo_bpm ? "its time is no note value at this tempo" : "no tempo was given");
}

} // namespace

const std::vector<FigureInfo>& echoesFigures()
{
    const std::string repeats = "where echoes follow one another evenly";
    static const std::vector<FigureInfo> figures{
        {.key = "echoes",
         .name = "echoes",
         .unit = "",
         .digits = 2,
         .allowed = {0.021, 0},
         .definition = "distinct repeats: time_ms from the input, the reported latency taken out; level_db of "
                       "their power against the input",
         .shape = FigureShape::List},
        {.key = "repeat_ms",
         .name = "repeat",
         .unit = "ms",
         .digits = 2,
         .allowed = {0.021, 0}, // a sample
         .definition = "time from one echo to the next",
         .applies = repeats},
        {.key = "feedback_db",
         .name = "feedback",
         .unit = "dB",
         .digits = 2,
         .allowed = {0.1, 0},
         .definition = "level of an echo against the one before, where a filter in the loop leaves it alone",
         .applies = repeats},
        {.key = "division",
         .name = "note value",
         .digits = 0,
         .definition = "the repeat (the first echo where there is none) as a note value, within 1 %",
         .applies = "where a tempo was given",
         .shape = FigureShape::Word}};
    return figures;
}

FaultOr<Reading> measureEchoes(Subject& subject)
{
    const double rate_hz = subject.conditions().sample_rate_hz;
    const auto linear_dbfs = linearLevel(subject);
    if (!linear_dbfs)
        return tl::make_unexpected(linear_dbfs.error());
    const double level_dbfs = *linear_dbfs;
    auto swept =
        impulseResponses(subject, {.level_dbfs = level_dbfs, .tail_s = 1, .longest_tail_s = longest_echo_s});
    if (!swept)
        return tl::make_unexpected(swept.error());
    const auto latency = static_cast<double>(subject.latencyReportedSamples());

    Reading reading;
    reading.conditions = {{"level_dbfs", level_dbfs}};
    if (const auto tempo_bpm = subject.conditions().tempo_bpm)
        reading.conditions["tempo_bpm"] = *tempo_bpm;
    Arrivals arrivals = arrivalsIn(swept->outputs, swept->frames, rate_hz);
    const auto direct = directSound(arrivals, latency, rate_hz);
    const double explained = arrivals.explained(direct);
    if (direct)
        arrivals.list.erase(arrivals.list.begin());
    const bool distinct = explained > least_explained && arrivals.fall_db > least_fall_db;
    // What is only late, and calls itself no delay, has latency.
    const bool late = arrivals.list.size() == 1 && !direct && !delaysOnPurpose(subject.info()) &&
                      arrivals.list.front().at < most_unreported_echo_s * rate_hz;
    if (arrivals.list.empty() || late) {
        putNone(reading, echoesFigures(), "nothing comes later than the sound itself");
        return reading;
    }
    const double direct_at = direct ? direct->at : 0;
    const auto loop = findFeedbackLoop(swept->outputs, arrivals.list, latency, swept->frames, rate_hz);
    if (!distinct && (!loop || loop->doubtful)) {
        putNone(reading, echoesFigures(), "what comes later runs together: it has no distinct echoes");
        return reading;
    }
    if (swept->rings_on)
        reading.flags.push_back({"still-sounding", "echoes went on for more than 30 s", {"echoes"}});
    const Echoes echoes = loop ? Echoes{loop->echoes, loop->gap_samples, loop->feedback_db, loop->doubtful}
                               : echoesAmong(swept->outputs, arrivals.list, direct_at, latency, rate_hz);
    if (echoes.doubtful)
        reading.flags.push_back({"uneven-echoes",
                                 "an echo is not quite the one before, filtered and later: they "
                                 "overlap, or something moves",
                                 {"echoes", "repeat_ms", "feedback_db"}});
    auto list = nlohmann::ordered_json::array();
    Curve& series = reading.series["echoes"] = {"time_ms", "level_db", {}};
    const double to_ms = 1000 / rate_hz;
    for (const Arrival& echo : echoes.list) {
        const double time_ms = (echo.at - latency) * to_ms;
        const double level_db = levelDb(echo);
        list.push_back({{"time_ms", time_ms}, {"level_db", level_db}});
        series.points.emplace_back(time_ms, level_db);
    }
    reading.figures["echoes"] = list;
    const std::string once = "no echo is repeated";
    reading.put("repeat_ms", echoes.gap_samples ? std::optional(*echoes.gap_samples * to_ms) : std::nullopt,
                once);
    reading.put("feedback_db", echoes.feedback_db,
                echoes.gap_samples ? "the repeats run into each other over all of the band" : once);
    putDivision(reading,
                reading.number("repeat_ms") ? reading.number("repeat_ms")
                                            : std::optional((echoes.list.front().at - latency) * to_ms),
                subject.conditions().tempo_bpm);
    return reading;
}

} // namespace hr::bench

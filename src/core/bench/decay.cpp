// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/decay.h"

#include "bench/arrivals.h"
#include "bench/impulse.h"
#include "bench/linear_level.h"
#include "bench/reverberation.h"
#include "signal/levels.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>

namespace hr::bench {

namespace {

using hosting::FaultOr;

constexpr double longest_tail_s = 40;
/// Cut away with the sound itself.
constexpr double direct_s = 0.002;
/// The sound itself stands alone where so much of its power, or less, follows at once.
constexpr double quiet_after = 0.003;
/// The reverb has begun where it reaches this part of its highest point.
constexpr double begins_at = 0.05;
constexpr std::array<double, 7> octaves_hz{125, 250, 500, 1000, 2000, 4000, 8000};
/// A band that dies faster does not reverberate; nor does what rings in fewer bands than two: a filter.
constexpr double shortest_rt60_s = 0.05;
constexpr double own_ringing = 12; // over the band's width: what the octave's filter itself takes
constexpr std::size_t least_bands = 2;
/// Against the whole response: what is left after the sound itself is no reverb below it, but what a gain that
/// moves, or a bent waveform, leaves in a response.
constexpr double least_power = 1e-5;
constexpr double clearly_bent_permille = 10;

using Responses = std::vector<std::vector<double>>;

/// All outputs from `first` on.
std::vector<double> powerFrom(const Responses& responses, std::size_t first)
{
    std::vector<double> power(responses.front().size() - first);
    for (const auto& response : responses)
        for (std::size_t i = 0; i < power.size(); ++i)
            power[i] += response[first + i] * response[first + i];
    return power;
}

/// Whether nothing follows for a millisecond and a half that is louder than the skirts of an impulse.
bool quietAfter(const Responses& responses, const Arrival& direct, double rate_hz)
{
    double after = 0;
    for (const auto& response : responses)
        after += powerAround(response, direct.at + 0.0015 * rate_hz, rate_hz);
    return after < quiet_after * direct.power;
}

/// Takes the sound itself out, with what the ends of the sweep leave around it: a reverb may be as quiet as
/// that.
void takeOut(Responses& responses, const Arrival& direct, const std::vector<double>& identity)
{
    const auto at = static_cast<std::size_t>(std::lround(direct.at));
    for (auto& response : responses) {
        const double gain = response[at] / identity.front();
        for (std::size_t i = 0; i < response.size(); ++i)
            response[(at + i) % response.size()] -= gain * identity[i];
    }
}

/// Whether any stretch after the sound itself is clearly louder than those before it: what the processor adds
/// by chance lies on both sides, and dies away as the sweep's end goes past.
bool followsMoreThanPrecedes(const Responses& responses, const Arrival& direct, double rate_hz)
{
    constexpr double stretch_s = 0.02;
    constexpr double before_s = 0.1; // no distortion lies there
    constexpr double clear = 4;      // in power
    const auto stretch = static_cast<std::size_t>(stretch_s * rate_hz);
    const auto skirt = static_cast<std::size_t>(direct_s * rate_hz);
    const auto at = static_cast<std::size_t>(std::lround(direct.at));
    const std::size_t size = responses.front().size();
    const auto loudest = [&](std::size_t first, std::size_t count) {
        double most = 0;
        for (std::size_t begin = first; begin + stretch <= first + count; begin += stretch) {
            double sum = 0;
            for (const auto& response : responses)
                for (std::size_t i = 0; i < stretch; ++i)
                    sum += response[(begin + i) % size] * response[(begin + i) % size];
            most = std::max(most, sum);
        }
        return most;
    };
    const auto before = static_cast<std::size_t>(before_s * rate_hz);
    return loudest(at + skirt, size / 2) > clear * loudest(size + at - skirt - before, before);
}

std::size_t beginning(const std::vector<double>& power)
{
    const double highest = *std::ranges::max_element(power);
    const auto first =
        std::ranges::find_if(power, [&](double p) { return p > begins_at * begins_at * highest; });
    return static_cast<std::size_t>(first - power.begin());
}

/// T30 by octave, where there is any to speak of.
Curve inOctaves(const Responses& responses, double rate_hz)
{
    Curve curve{"frequency_hz", "rt60_s", {}};
    std::vector<Octaves> divided;
    for (const auto& response : responses)
        divided.emplace_back(response, rate_hz);
    for (const double centre_hz : octaves_hz) {
        if (centre_hz * 1.6 > rate_hz / 2)
            break;
        std::vector<double> power(responses.front().size());
        for (const Octaves& one : divided)
            std::ranges::transform(power, one.around(centre_hz), power.begin(),
                                   [](double sum, double sample) { return sum + sample * sample; });
        const auto t30_s = decayTimes(power, rate_hz).t30_s;
        const double least_s = std::max(shortest_rt60_s, own_ringing / (centre_hz / std::sqrt(2.0)));
        if (t30_s && *t30_s > least_s)
            curve.points.emplace_back(centre_hz, *t30_s);
    }
    return curve;
}

/// The response as it is heard, highest level of each stretch against the highest of all; and what is left of
/// its energy from each moment on.
void putCourse(Reading& reading, const std::vector<double>& power, const DecayTimes& times, double rate_hz)
{
    constexpr std::size_t drawn_points = 400;
    constexpr double drawn_down_to_db = -90;
    const std::size_t frames = times.curve_db.size();
    const std::size_t stretch = std::max<std::size_t>(1, frames / drawn_points);
    const double highest = *std::ranges::max_element(power);
    Curve& impulse = reading.series["impulse"] = {"time_s", "level_db", {}};
    Curve& left = reading.series["decay"] = {"time_s", "level_db", {}};
    for (std::size_t at = 0; at + stretch <= frames && times.curve_db[at] > drawn_down_to_db; at += stretch) {
        const auto loudest = *std::max_element(power.begin() + static_cast<std::ptrdiff_t>(at),
                                               power.begin() + static_cast<std::ptrdiff_t>(at + stretch));
        const double time_s = static_cast<double>(at) / rate_hz;
        if (const double level_db = signal::powerToDb(loudest / highest); level_db > drawn_down_to_db)
            impulse.points.emplace_back(time_s, level_db);
        left.points.emplace_back(time_s, times.curve_db[at]);
    }
}

} // namespace

const std::vector<FigureInfo>& decayFigures()
{
    const std::string rings = "where it reverberates";
    static const std::vector<FigureInfo> figures{
        {.key = "rt60_s",
         .name = "reverberation time",
         .unit = "s",
         .digits = 3,
         .allowed = {0, 0.03},
         .definition = "T30 of the whole band: the line through -5 to -35 dB of the backward integration",
         .source = "ISO 3382-1:2009; M. R. Schroeder, JASA 37, 1965",
         .applies = rings,
         .in_lists = true},
        {.key = "edt_s",
         .name = "early decay time",
         .unit = "s",
         .digits = 3,
         .allowed = {0, 0.03},
         .definition = "of the whole band, by the line through the first 10 dB of the backward integration",
         .source = "ISO 3382-1:2009",
         .applies = rings},
        {.key = "predelay_ms",
         .name = "predelay",
         .unit = "ms",
         .digits = 2,
         .allowed = {0.021, 0}, // a sample
         .definition = "from the input to the first sound of the reverb, the reported latency taken out",
         .applies = rings},
        {.key = "echo_density",
         .name = "dense after",
         .unit = "ms",
         .digits = 0,
         .definition = "when the share of samples beyond one standard deviation, in a window of 20 ms, first "
                       "reaches that of Gaussian noise",
         .source = "J. S. Abel, P. Huang, AES 121, 2006",
         .applies = rings}};
    return figures;
}

FaultOr<Reading> measureDecay(Subject& subject)
{
    const double rate_hz = subject.conditions().sample_rate_hz;
    const auto linear_dbfs = linearLevel(subject);
    if (!linear_dbfs)
        return tl::make_unexpected(linear_dbfs.error());
    const double level_dbfs = *linear_dbfs;
    auto swept = impulseResponses(
        subject, {.level_dbfs = level_dbfs, .longest_tail_s = longest_tail_s, .with_identity = true});
    if (!swept)
        return tl::make_unexpected(swept.error());
    const auto latency = static_cast<double>(subject.latencyReportedSamples());

    Reading reading;
    reading.conditions = {{"level_dbfs", level_dbfs}};
    const Arrivals arrivals = arrivalsIn(swept->outputs, swept->frames, rate_hz);
    const auto direct = directSound(arrivals, latency, rate_hz);
    // The reverb alone, from its beginning, as long as anything can be told from noise.
    std::size_t first = 0;
    const bool stands_alone =
        direct && (direct->power > 0.5 * arrivals.total_power || quietAfter(swept->outputs, *direct, rate_hz));
    if (stands_alone)
        first = static_cast<std::size_t>(direct->at + direct_s * rate_hz);
    // As it is heard, with the sound itself; and without it.
    auto heard = powerFrom(swept->outputs, 0);
    heard.resize(swept->frames);
    heard.erase(heard.begin(),
                heard.begin() +
                    static_cast<std::ptrdiff_t>(stands_alone ? static_cast<std::size_t>(std::lround(direct->at))
                                                             : beginning(heard)));
    if (stands_alone) {
        takeOut(swept->outputs, *direct, swept->identity);
        if (!followsMoreThanPrecedes(swept->outputs, *direct, rate_hz)) {
            putNone(reading, decayFigures(), "nothing follows the sound but what it adds by chance");
            return reading;
        }
    }
    for (auto& response : swept->outputs)
        response.resize(swept->frames);
    const std::size_t silent = beginning(powerFrom(swept->outputs, first));
    const bool under_direct = first > 0 && silent < static_cast<std::size_t>(0.0002 * rate_hz);
    first += silent;
    swept->identity = std::vector<double>();
    Responses reverb; // a long one takes much memory: what is done with is given back
    for (auto& response : swept->outputs) {
        reverb.emplace_back(response.begin() + static_cast<std::ptrdiff_t>(first), response.end());
        response = std::vector<double>();
    }

    const auto power = powerFrom(reverb, 0);
    const bool sounds = std::accumulate(power.begin(), power.end(), 0.0) > least_power * arrivals.total_power;
    const Curve octaves = sounds ? inOctaves(reverb, rate_hz) : Curve();
    if (octaves.points.size() < least_bands) {
        putNone(reading, decayFigures(), "nothing rings on, or only what a filter rings");
        return reading;
    }
    reading.series["rt60"] = octaves;
    const DecayTimes times = decayTimes(power, rate_hz);
    putCourse(reading, power, times, rate_hz);
    reading.put("rt60_s", times.t30_s, "it does not fall by 35 dB before its own noise begins");
    reading.put("edt_s", decayTimes(heard, rate_hz).edt_s, "it falls by 10 dB at once, or in steps");
    reading.put("predelay_ms",
                under_direct ? std::nullopt
                             : std::optional((static_cast<double>(first) - latency) * 1000 / rate_hz),
                "the reverb begins under the sound itself");
    const auto dense_s = denseAfterS(reverb.front(), rate_hz);
    reading.put("echo_density",
                dense_s
                    ? std::optional(1000 * *dense_s + (static_cast<double>(first) - latency) * 1000 / rate_hz)
                    : std::nullopt,
                "it never becomes as dense as noise");
    if (times.bent_permille > clearly_bent_permille)
        reading.flags.push_back(
            {"uneven-decay", "the decay is no straight line: T30 is one of many readings", {"rt60_s"}});
    if (swept->rings_on)
        reading.flags.push_back({"still-sounding", "it sounded on after 40 s", {"rt60_s", "edt_s"}});
    return reading;
}

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/response.h"

#include "bench/excess_phase.h"
#include "bench/impulse.h"
#include "bench/linear_level.h"
#include "bench/magnitude.h"
#include "bench/spectrum.h"
#include "signal/levels.h"
#include "signal/transform.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <numbers>

namespace hr::bench {

namespace {

constexpr int series_per_octave = 48;
/// Below this there is no response to speak of: the sweep did not come through.
constexpr double silent_db = -140;
constexpr double longest_ring_s = 20;
/// Below this a Q of 1000 is narrower than what bins of 0.03 Hz show.
constexpr double refined_to_hz = 500;
/// An extreme stands so far above what two sweeps differ by.
constexpr double clear_of_difference_db = 10;
constexpr std::size_t most_extremes = 16;
constexpr double varies_by = 0.1;
/// What holds its values for longer is swept as it is.
constexpr std::size_t longest_hold_swept = 64;
/// So many holds are nearly whole samples.
constexpr double nearly_whole = 0.02;

nlohmann::ordered_json listOf(const std::vector<Extreme>& extremes)
{
    auto list = nlohmann::ordered_json::array();
    for (const Extreme& e : extremes)
        list.push_back({{"frequency_hz", e.frequency_hz},
                        {"gain_db", e.gain_db},
                        {"q", orNull(e.q)},
                        {"bandwidth_3db_hz", orNull(e.bandwidth_3db_hz)}});
    return list;
}

void putFigures(Reading& reading, const MagnitudeFigures& figures, const Spectrum& spectrum)
{
    const std::string never = "the magnitude does not fall 3.01 dB below the passband on this side";
    const std::string leaves = "the octave it is measured over leaves 10 Hz to 0.45 fs, or there is no corner";
    reading.put("gain_1k_db", spectrum.magnitudeDb(1000));
    reading.put("passband_db", figures.passband_db);
    reading.put("corner_low_hz", figures.corner_low_hz, never);
    reading.put("corner_high_hz", figures.corner_high_hz, never);
    reading.put("slope_low_db_per_octave", figures.slope_low_db_per_octave, leaves);
    reading.put("slope_high_db_per_octave", figures.slope_high_db_per_octave, leaves);
}

/// Gives what lies below 150 Hz, and less and less of it up to 300; and keeps only what the sweep came to:
/// noise above that stands higher than all that is owed to the input.
std::vector<double> takeApart(std::vector<double>& response, double rate_hz)
{
    auto bins = signal::forwardTransform(response);
    const double bin_hz = rate_hz / static_cast<double>(response.size());
    const auto fade = [&](double whole_to_hz, double none_from_hz) {
        for (std::size_t k = 0; k < bins.size(); ++k) {
            const double part = std::clamp(
                (static_cast<double>(k) * bin_hz - whole_to_hz) / (none_from_hz - whole_to_hz), 0.0, 1.0);
            bins[k] *= 0.5 + 0.5 * std::cos(std::numbers::pi * part);
        }
    };
    fade(0.486 * rate_hz, 0.49 * rate_hz);
    response = signal::inverseTransform(bins, response.size());
    fade(150, 300);
    return signal::inverseTransform(std::move(bins), response.size());
}

std::size_t largestOf(const std::vector<double>& response, std::size_t frames)
{
    const auto end = response.begin() + static_cast<std::ptrdiff_t>(frames);
    const auto largest =
        std::max_element(response.begin(), end, [](double a, double b) { return std::abs(a) < std::abs(b); });
    return static_cast<std::size_t>(largest - response.begin());
}

/// Takes out of one output's responses to both sweeps what they do not show at the same time: noise, and what
/// folds or bends, which lies wherever the sweep has come to by then. Around the highest point everything
/// stays, and so does what is low: the ends of the sweeps leave skirts there.
void takeOutWhatDiffers(std::vector<double>& response, std::vector<double>& again, std::size_t frames,
                        double rate_hz)
{
    constexpr double stretch_s = 0.02;
    constexpr double kept_s = 0.05;
    const auto stretch = static_cast<std::size_t>(stretch_s * rate_hz);
    const auto low = takeApart(response, rate_hz);
    const auto low_again = takeApart(again, rate_hz);
    const std::size_t from = largestOf(response, frames) + static_cast<std::size_t>(kept_s * rate_hz);
    double gain = 1; // of the stretch before
    for (std::size_t at = from; at < frames; at += stretch) {
        const std::size_t count = std::min(stretch, frames - at);
        double power = 0;
        double differs = 0;
        for (std::size_t i = at; i < at + count; ++i) {
            const double one = response[i] - low[i];
            const double other = again[i] - low_again[i];
            power += one * one;
            differs += (one - other) * (one - other);
        }
        const double wanted = differs > power ? 0 : 1; // twice the power, where they have nothing in common
        for (std::size_t i = 0; i < count; ++i) {      // so gently that it leaves no skirts of its own below
            const double part = 0.5 - 0.5 * std::cos(std::numbers::pi * static_cast<double>(i + 1) /
                                                     static_cast<double>(count));
            const double now = gain + (wanted - gain) * part;
            response[at + i] = low[at + i] + now * (response[at + i] - low[at + i]);
            again[at + i] = low_again[at + i] + now * (again[at + i] - low_again[at + i]);
        }
        gain = wanted;
    }
}

/// Whether there is nothing that one sweep shows and the other does not: of what does not hiss, fold, bend or
/// move.
bool agree(const Spectrum& first, const Spectrum& again, double rate_hz)
{
    constexpr double apart_db = -60;
    const auto grid = logarithmicGrid(20, 0.45 * rate_hz, series_per_octave);
    double loudest_db = -200;
    for (const double f : grid)
        loudest_db = std::max(loudest_db, first.magnitudeDb(f));
    return std::ranges::none_of(grid, [&](double f) {
        return first.differenceAt(f, again) > signal::dbToLinear(loudest_db + apart_db);
    });
}

/// One output by both sweeps.
struct Answer {
    Spectrum first, again; ///< as each of them shows it
    /// What it owes to the input, as the mean: what they do not have in common is halved, or gone.
    Spectrum mean;
    std::optional<int> polarity;
};

Answer answerOf(std::size_t output, const ImpulseResponses& swept, const ImpulseResponses& second,
                double rate_hz)
{
    const std::size_t frames = std::min(swept.frames, second.frames);
    const auto linear = [&](const std::vector<double>& response) {
        return linearPart(response, frames, rate_hz);
    };
    const auto polarity = [&](const std::vector<double>& response) {
        return polarityOf(std::span(response).first(frames));
    };
    Spectrum first(linear(swept.outputs[output]), rate_hz);
    Spectrum again(linear(second.outputs[output]), rate_hz);
    if (agree(first, again, rate_hz)) {
        Spectrum mean = Spectrum::mean(first, again);
        return {std::move(first), std::move(again), std::move(mean), polarity(swept.outputs[output])};
    }
    auto one = swept.outputs[output];
    auto other = second.outputs[output];
    takeOutWhatDiffers(one, other, frames, rate_hz);
    one = linear(one); // from now on of one length
    other = linear(other);
    std::ranges::transform(one, other, one.begin(), [](double a, double b) { return (a + b) / 2; });
    return {std::move(first), std::move(again), Spectrum(one, rate_hz), polarity(one)};
}

/// The fewest samples that are a whole number of holds, or nearly; none where the hold is too long.
std::size_t wholeHolds(double held_samples)
{
    std::size_t best = 1;
    double off = 1;
    for (auto n = static_cast<std::size_t>(held_samples); n <= longest_hold_swept && off > nearly_whole; ++n) {
        const double holds = static_cast<double>(n) / held_samples;
        if (std::abs(holds - std::round(holds)) < off) {
            off = std::abs(holds - std::round(holds));
            best = n;
        }
    }
    return best;
}

/// What holds each of its values for some samples answers differently at each of them; what it owes to the
/// input is the mean. So there the sweep is begun at all of them.
hosting::FaultOr<ImpulseResponses> sweptAtEach(Subject& subject, Sweep sweep)
{
    auto mean = impulseResponses(subject, sweep);
    const std::size_t sweeps = mean ? wholeHolds(mean->held_samples) : 1;
    if (sweeps == 1)
        return mean;
    sweep.fresh = true;
    sweep.tail_s = sweep.longest_tail_s = mean->tail_s; // all of one length
    while (++sweep.later_frames < sweeps) {
        const auto one = impulseResponses(subject, sweep);
        if (!one)
            return tl::make_unexpected(one.error());
        for (std::size_t c = 0; c < mean->outputs.size(); ++c)
            std::ranges::transform(mean->outputs[c], one->outputs[c], mean->outputs[c].begin(), std::plus());
    }
    for (auto& output : mean->outputs)
        for (double& sample : output)
            sample /= static_cast<double>(sweeps);
    return mean;
}

/// Whether two sweeps give different responses over a good part of the band.
bool varies(const Spectrum& spectrum, const Spectrum& again, double sample_rate_hz)
{
    const auto grid = logarithmicGrid(20, 0.45 * sample_rate_hz, series_per_octave);
    const auto differs = std::ranges::count_if(grid, [&](double f) {
        return spectrum.differenceAt(f, again) > varies_by * signal::dbToLinear(spectrum.magnitudeDb(f));
    });
    return static_cast<std::size_t>(4 * differs) > grid.size();
}

/// Those that are no noise (a second sweep shows them as well, out of what lies beside them), the most
/// prominent ones.
void putExtremes(Reading& reading, const char* key, std::vector<Extreme> extremes, const Answer& answer,
                 double passband_db)
{
    std::erase_if(extremes, [&](const Extreme& e) {
        const double aside_db = e.gain_db + (e.gain_db > 0 ? -e.prominence_db : e.prominence_db);
        const double stands_out =
            std::abs(signal::dbToLinear(passband_db + e.gain_db) - signal::dbToLinear(passband_db + aside_db));
        const double differs = std::max(answer.first.differenceAt(e.frequency_hz, answer.again),
                                        answer.first.lineDifferenceAt(e.frequency_hz, answer.again));
        return stands_out < signal::dbToLinear(clear_of_difference_db) * differs;
    });
    if (extremes.size() > most_extremes) {
        std::ranges::sort(extremes, std::ranges::greater(), &Extreme::prominence_db);
        reading.flags.push_back({"many-extremes", std::to_string(extremes.size()) + " " + key + ", the " +
                                                      std::to_string(most_extremes) +
                                                      " most prominent are given"});
        extremes.resize(most_extremes);
        std::ranges::sort(extremes, {}, &Extreme::frequency_hz);
    }
    reading.figures[key] = listOf(extremes);
}

/// `suffix` "_2" of the second output.
void putSeries(Reading& reading, const Spectrum& spectrum, double sample_rate_hz, double latency_samples,
               const std::string& suffix = {})
{
    const auto grid = logarithmicGrid(10, 0.485 * sample_rate_hz, series_per_octave);
    const auto phase = spectrum.unwrappedPhase(grid, latency_samples, sample_rate_hz);
    Curve magnitude{"frequency_hz", "magnitude_db", {}};
    Curve phases{"frequency_hz", "phase_deg", {}};
    Curve delay{"frequency_hz", "group_delay_ms", {}};
    for (std::size_t i = 0; i < grid.size(); ++i) {
        magnitude.points.emplace_back(grid[i], spectrum.magnitudeDb(grid[i]));
        phases.points.emplace_back(grid[i], phase[i]);
        if (i > 0 && i + 1 < grid.size())
            delay.points.emplace_back(grid[i], -(phase[i + 1] - phase[i - 1]) / 360 /
                                                   (grid[i + 1] - grid[i - 1]) * 1000);
    }
    reading.series["magnitude" + suffix] = std::move(magnitude);
    reading.series["phase" + suffix] = std::move(phases);
    reading.series["group_delay" + suffix] = std::move(delay);
}

} // namespace

const std::vector<FigureInfo>& responseFigures()
{
    static const std::vector<FigureInfo> figures{
        {"gain_1k_db",
         "gain at 1 kHz",
         "dB",
         3,
         Better::Neither,
         {0.02, 0},
         "magnitude of the first output at 1 kHz",
         "A. Farina, AES 108, 2000"},
        {"passband_db",
         "passband",
         "dB",
         3,
         Better::Neither,
         {0.02, 0},
         "the level that most of the response between 20 Hz and 0.45 fs has, evenly by octaves"},
        {"corner_low_hz",
         "lower corner",
         "Hz",
         1,
         Better::Neither,
         {0, 0.01},
         "the lowest frequency at which the magnitude crosses 3.01 dB below the passband for good",
         {},
         "where the response falls towards low frequencies"},
        {"corner_high_hz",
         "upper corner",
         "Hz",
         1,
         Better::Neither,
         {0, 0.01},
         "the highest frequency at which the magnitude crosses 3.01 dB below the passband for good",
         {},
         "where the response falls towards high frequencies"},
        {"slope_low_db_per_octave",
         "slope below",
         "dB/octave",
         2,
         Better::Neither,
         {0, 0.03},
         "fall over the octave that begins one octave below the lower corner",
         {},
         "where that octave lies above 10 Hz"},
        {"slope_high_db_per_octave",
         "slope above",
         "dB/octave",
         2,
         Better::Neither,
         {0, 0.03},
         "fall over the octave that begins one octave above the upper corner",
         {},
         "where that octave lies below 0.45 fs"},
        {"peaks",
         "peaks",
         "",
         2,
         Better::Neither,
         {0.02, 0},
         "local highs that stand at least 0.5 dB out of the passband and of both their sides: frequency_hz, "
         "gain_db, q, bandwidth_3db_hz",
         {},
         {},
         FigureShape::List},
        {"notches",
         "notches",
         "",
         2,
         Better::Neither,
         {0.02, 0},
         "local lows that stand at least 0.5 dB out of the passband and of both their sides: frequency_hz, "
         "gain_db, q, bandwidth_3db_hz",
         {},
         {},
         FigureShape::List},
        {"polarity", "polarity", "", 0, Better::Neither, {}, "1 as the input, -1 turned round"}};
    return figures;
}

hosting::FaultOr<Reading> measureResponse(Subject& subject)
{
    const double rate_hz = subject.conditions().sample_rate_hz;
    const auto linear_dbfs = linearLevel(subject);
    if (!linear_dbfs)
        return tl::make_unexpected(linear_dbfs.error());
    const double level_dbfs = *linear_dbfs;

    // Stimulus and run: the sweep, silence for what rings on.
    Sweep sweep{.level_dbfs = level_dbfs, .longest_tail_s = longest_ring_s};
    auto swept = sweptAtEach(subject, sweep);
    if (!swept)
        return tl::make_unexpected(swept.error());
    sweep.fresh = swept->rings_on || swept->held_samples > 1; // where the first would still be heard or felt
    sweep.another = true;
    auto second = sweptAtEach(subject, sweep);
    if (!second)
        return tl::make_unexpected(second.error());

    // Analysis: what the first output owes to the input.
    Answer answer = answerOf(0, *swept, *second, rate_hz);
    Spectrum& spectrum = answer.mean;
    // A frequency that the sweep came to later was heard for less of the record, but at least for its tail.
    spectrum.refine(refined_to_hz, swept->tail_s);
    const MagnitudeFigures figures = readMagnitude([&](double f) { return spectrum.magnitudeDb(f); }, rate_hz);

    // Reading.
    Reading reading;
    reading.conditions = {{"level_dbfs", level_dbfs}};
    putFigures(reading, figures, spectrum);
    if (figures.peaks.empty() && figures.notches.empty()) {
        reading.figures["peaks"] = reading.figures["notches"] = nlohmann::ordered_json::array();
    } else {
        if (varies(answer.first, answer.again, rate_hz))
            reading.flags.push_back(
                {"varies",
                 "two sweeps give different responses: it moves, hisses, or bends the waveform",
                 {"gain_1k_db", "passband_db", "corner_low_hz", "corner_high_hz", "slope_low_db_per_octave",
                  "slope_high_db_per_octave", "peaks", "notches"}});
        putExtremes(reading, "peaks", figures.peaks, answer, figures.passband_db);
        putExtremes(reading, "notches", figures.notches, answer, figures.passband_db);
    }
    if (swept->rings_on)
        reading.flags.push_back({"still-sounding",
                                 "it rang on after 20 s: how it goes on is worked out",
                                 {"gain_1k_db", "peaks", "notches"}});
    if (*reading.number("passband_db") < silent_db) {
        const auto keys = reading.figures;
        for (const auto& [key, value] : keys.items())
            reading.put(key, std::nullopt, "no signal came through");
        reading.put("polarity", std::nullopt, "no signal came through");
        return reading;
    }
    if (answer.polarity)
        reading.figures["polarity"] = *answer.polarity;
    else
        reading.put("polarity", std::nullopt, "what comes out is nearly as high one way up as the other");
    const auto latency = static_cast<double>(subject.latencyReportedSamples());
    putSeries(reading, spectrum, rate_hz, latency);
    // The second output has curves of its own where it is another.
    if (swept->outputs.size() > 1 && swept->outputs[1] != swept->outputs[0]) {
        const Spectrum other = answerOf(1, *swept, *second, rate_hz).mean;
        if (readMagnitude([&](double f) { return other.magnitudeDb(f); }, rate_hz).passband_db > silent_db)
            putSeries(reading, other, rate_hz, latency, "_2");
    }
    return reading;
}

} // namespace hr::bench

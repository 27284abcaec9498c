// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/harmonics.h"

#include "bench/magnitude.h"
#include "bench/steady_tone.h"
#include "signal/levels.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <numeric>

namespace hr::bench {

namespace {

using hosting::FaultOr;

constexpr double tone_level_dbfs = -12;
constexpr std::size_t last_harmonic = 20;
constexpr double thdn_low_hz = 20; // AES17's band
constexpr double thdn_high_hz = 20000;
constexpr double longest_point_s = 12; // of a series

struct HarmonicPowers {
    double fundamental = 0;
    std::vector<double> harmonics; // from the 2nd, those below Nyquist
};

HarmonicPowers harmonicPowers(const std::vector<double>& power, const Tone& tone)
{
    HarmonicPowers found{power[tone.cycles], {}};
    for (std::size_t n = 2; n <= last_harmonic && n * tone.cycles < tone.window_frames / 2; ++n)
        found.harmonics.push_back(power[n * tone.cycles]);
    return found;
}

double sum(const std::vector<double>& powers, std::size_t first, std::size_t step)
{
    double total = 0;
    for (std::size_t i = first; i < powers.size(); i += step)
        total += powers[i];
    return total;
}

/// A tone that is turned into others, as by a ring modulator or a full-wave rectifier, is no fundamental to
/// hold them against.
bool cameThrough(const std::vector<double>& power, double fundamental)
{
    constexpr double least_share = 1e-6;
    const double all = std::accumulate(power.begin() + 1, power.end(), 0.0);
    return signal::powerToDb(2 * fundamental) > no_tone_dbfs && fundamental > least_share * all;
}

/// What is less is the rounding of the arithmetic.
double levelDb(double power, double against)
{
    constexpr double least_db = -240;
    return power > 0 ? std::max(least_db, signal::powerToDb(power / against)) : least_db;
}

double thdnDb(const std::vector<double>& power, const Tone& tone)
{
    const double bin_hz = tone.rate_hz / static_cast<double>(tone.window_frames);
    double rest = 0;
    for (std::size_t k = 1; k < power.size(); ++k)
        if (const double f = static_cast<double>(k) * bin_hz;
            k != tone.cycles && f >= thdn_low_hz && f <= thdn_high_hz)
            rest += power[k];
    return levelDb(rest, rest + power[tone.cycles]);
}

void putFigures(Reading& reading, const std::vector<double>& window, const Tone& tone)
{
    const auto power = powerSpectrum(window);
    const HarmonicPowers powers = harmonicPowers(power, tone);
    double mean = 0;
    for (const double sample : window)
        mean += sample / static_cast<double>(window.size());
    if (!cameThrough(power, powers.fundamental)) {
        for (const char* key :
             {"thd_percent", "thd_db", "thdn_db", "harmonics_db", "odd_db", "even_db", "crest_change_db"})
            reading.put(key, std::nullopt, "the tone did not come through");
        reading.put("dc_offset", mean);
        return;
    }
    const std::string none = "no harmonic lies below half the sample rate";
    const auto against = [&](double total) {
        return powers.harmonics.empty() ? std::optional<double>()
                                        : std::optional(levelDb(total, powers.fundamental));
    };
    const double all = sum(powers.harmonics, 0, 1);
    reading.put("thd_percent",
                powers.harmonics.empty() ? std::nullopt
                                         : std::optional(100 * std::sqrt(all / powers.fundamental)),
                none);
    reading.put("thd_db", against(all), none);
    reading.put("thdn_db", thdnDb(power, tone));
    auto list = nlohmann::ordered_json::array();
    for (const double harmonic : powers.harmonics)
        list.push_back(levelDb(harmonic, powers.fundamental));
    reading.figures["harmonics_db"] = list;
    reading.put("odd_db", against(sum(powers.harmonics, 1, 2)), none);
    reading.put("even_db", against(sum(powers.harmonics, 0, 2)), none);
    reading.put("dc_offset", mean);
    const std::span<const double> samples(window);
    // A sine's peak reads as its level by AES17, so its crest is 0 dB on this scale.
    reading.put("crest_change_db", signal::peakDbfs(samples) - signal::rmsDbfs(samples));
}

FaultOr<std::optional<double>> thdPercent(Subject& subject, const Tone& tone, double settling_s)
{
    auto window = settledWindow(subject, tone, {settling_s, longest_point_s});
    if (!window)
        return tl::make_unexpected(window.error());
    const auto power = powerSpectrum(window->samples);
    const HarmonicPowers powers = harmonicPowers(power, tone);
    if (!cameThrough(power, powers.fundamental) || powers.harmonics.empty())
        return std::nullopt;
    return 100 * std::sqrt(sum(powers.harmonics, 0, 1) / powers.fundamental);
}

/// Points that a figure exists for; the others stay out.
FaultOr<void> addPoint(Curve& series, double x, FaultOr<std::optional<double>> y)
{
    if (!y)
        return tl::make_unexpected(y.error());
    if (*y)
        series.points.emplace_back(x, **y);
    return {};
}

FaultOr<void> putSeries(Reading& reading, Subject& subject, double frequency_hz, double level_dbfs,
                        double settling_s)
{
    const double rate_hz = subject.conditions().sample_rate_hz;
    constexpr double window_s = 0.35;
    Curve& over_level = reading.series["thd_over_level"] = {"level_dbfs", "thd_percent", {}};
    for (double level = -60; level <= 0; level += 3)
        if (auto done =
                addPoint(over_level, level,
                         thdPercent(subject, coherentTone(frequency_hz, level, window_s, rate_hz), settling_s));
            !done)
            return done;
    Curve& over_frequency = reading.series["thd_over_frequency"] = {"frequency_hz", "thd_percent", {}};
    for (const double asked : logarithmicGrid(20, std::min(20000.0, 0.24 * rate_hz), 3)) {
        const Tone tone = coherentTone(asked, level_dbfs, window_s, rate_hz);
        if (auto done = addPoint(over_frequency, tone.frequencyHz(), thdPercent(subject, tone, settling_s));
            !done)
            return done;
    }
    return {};
}

/// One cycle of the tone, in and out: the window folded onto it, since each of its samples has a place of its
/// own there. The reported latency is taken out.
void putCycle(Reading& reading, const std::vector<double>& window, const Tone& tone, double window_at)
{
    constexpr std::size_t places = 180;
    std::array<double, places> sum{};
    std::array<int, places> count{};
    for (std::size_t i = 0; i < window.size(); ++i) {
        const double cycles = (window_at + static_cast<double>(i)) * tone.frequencyHz() / tone.rate_hz;
        const double place = (cycles - std::floor(cycles)) * places;
        const auto at = std::min(static_cast<std::size_t>(place), places - 1);
        sum[at] += window[i];
        ++count[at];
    }
    Curve in{"cycle_deg", "amplitude_fs", {}};
    Curve out = in;
    for (std::size_t at = 0; at < places; ++at) {
        const double part = (static_cast<double>(at) + 0.5) / places;
        if (count[at] == 0)
            continue;
        in.points.emplace_back(360 * part,
                               signal::dbToLinear(tone.level_dbfs) * std::sin(2 * std::numbers::pi * part));
        out.points.emplace_back(360 * part, sum[at] / count[at]);
    }
    reading.series["cycle_in"] = std::move(in);
    reading.series["cycle_out"] = std::move(out);
}

/// A fresh start, the tone until it has settled, and the figures of one window.
FaultOr<Reading> measureTone(Subject& subject, double frequency_hz, double level_dbfs, double settling_s)
{
    const Tone tone = coherentTone(frequency_hz, level_dbfs, 2.7, subject.conditions().sample_rate_hz);
    if (auto started = subject.restart(); !started)
        return tl::make_unexpected(started.error());
    auto window = settledWindow(subject, tone, {settling_s});
    if (!window)
        return tl::make_unexpected(window.error());
    Reading reading;
    reading.conditions = {{"frequency_hz", tone.frequencyHz()}, {"level_dbfs", level_dbfs}};
    putFigures(reading, window->samples, tone);
    putCycle(reading, window->samples, tone,
             static_cast<double>(window->first_frame) - static_cast<double>(subject.latencyReportedSamples()));
    flagMovement(reading, *window, tone.cycles,
                 {"thd_percent", "thd_db", "thdn_db", "harmonics_db", "odd_db", "even_db", "crest_change_db"});
    return reading;
}

} // namespace

const std::vector<FigureInfo>& harmonicsFigures()
{
    static const std::vector<FigureInfo> figures{
        {"thd_percent",
         "THD",
         "%",
         4,
         Better::Lower,
         {0, 0.0116}, // 0.1 dB
         "harmonics 2 to 20 below half the sample rate, against the fundamental",
         "AES17",
         {},
         FigureShape::Number,
         true},
        {"thd_db",
         "THD",
         "dB",
         2,
         Better::Lower,
         {0.1, 0},
         "level of harmonics 2 to 20 below half the sample rate, against the fundamental",
         "AES17"},
        {"thdn_db",
         "THD+N",
         "dB",
         2,
         Better::Lower,
         {0.1, 0},
         "everything but the fundamental, 20 Hz to 20 kHz, against the total",
         "AES17"},
        {"harmonics_db",
         "harmonics",
         "dB",
         2,
         Better::Lower,
         {0.1, 0},
         "level of each harmonic against the fundamental, from the second",
         {},
         {},
         FigureShape::List},
        {"odd_db", "odd harmonics", "dB", 2, Better::Lower, {0.1, 0}, "power sum of the odd ones"},
        {"even_db", "even harmonics", "dB", 2, Better::Lower, {0.1, 0}, "power sum of the even ones"},
        {"dc_offset",
         "DC offset",
         "",
         6,
         Better::NearZero,
         {1e-6, 0},
         "mean of the output over whole cycles, full scale = 1"},
        {"crest_change_db",
         "crest change",
         "dB",
         2,
         Better::Neither,
         {0.1, 0},
         "crest factor of the output against that of the sine"},
        {"at_100_hz",
         "at 100 Hz",
         "",
         2,
         Better::Neither,
         {},
         "figures of this test with a tone of 100 Hz",
         {},
         "where no frequency was asked for",
         FigureShape::Numbers}};
    return figures;
}

FaultOr<Reading> measureHarmonics(Subject& subject)
{
    const double level_dbfs = subject.conditions().level_dbfs.value_or(tone_level_dbfs);
    const double frequency_hz = subject.conditions().frequency_hz.value_or(1000);
    const auto settling_s = settlingS(subject, frequency_hz, level_dbfs);
    if (!settling_s)
        return tl::make_unexpected(settling_s.error());
    auto reading = measureTone(subject, frequency_hz, level_dbfs, *settling_s);
    if (!reading)
        return reading;
    if (!subject.conditions().frequency_hz) {
        auto low = measureTone(subject, 100, level_dbfs, *settling_s);
        if (!low)
            return low;
        reading->putGroup("at_100_hz", *low);
    }
    if (auto done = putSeries(*reading, subject, frequency_hz, level_dbfs, *settling_s); !done)
        return tl::make_unexpected(done.error());
    return reading;
}

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/selfcheck.h"

#include "bench/magnitude.h"
#include "bench/suite.h"
#include "processors/reference/registry.h"
#include "processors/settings.h"
#include "signal/biquad.h"
#include "signal/levels.h"

#include <cmath>
#include <limits>
#include <numbers>
#include <sstream>

namespace hr::bench {

namespace {

using processors::Setting;

constexpr double checked_rate_hz = 48000;

// What lists hold (peaks, notches, harmonics) is not declared by itself.
const FigureInfo extreme_frequency{
    .key = "frequency_hz", .name = "frequency of the extreme", .unit = "Hz", .allowed = {0, 0.01}};
const FigureInfo extreme_q{.key = "q", .name = "Q of the extreme", .allowed = {0, 0.03}};
/// The allowed error of the list, under the name of one thing in it.
FigureInfo inList(const char* test, const char* list, std::string name, std::string unit)
{
    FigureInfo info = *figureInfo(test, list);
    info.name = std::move(name);
    info.unit = std::move(unit);
    return info;
}
const FigureInfo echo_level{
    .key = "level_db", .name = "level of the first echo", .unit = "dB", .allowed = {0.1, 0}};

struct Bench {
    std::vector<Check> checks;

    std::stop_token cancel;

    /// The readings of one test at these settings; throws Cancelled once it is to stop.
    Reading measure(const std::string& test, const std::string& id, const std::vector<Setting>& settings)
    {
        m_title = id;
        for (const Setting& s : settings) {
            std::ostringstream text;
            text << ", " << s.key << " = " << s.value;
            m_title += text.str();
        }
        m_test = test;
        const auto info = processors::makeReference(id)->info();
        const auto values = processors::resolveSettings(info, {}, settings);
        auto subject = Subject::open({id, {}}, *values, {}, cancel);
        auto reading = subject ? testsNamed({test})->front().run(*subject)
                               : hosting::FaultOr<Reading>(tl::make_unexpected(subject.error()));
        if (!reading)
            throw Stopped(); // our own references fail in no other way
        return std::move(*reading);
    }

    /// With the error that the figure's declaration allows.
    void add(const std::string& figure, double known, std::optional<double> measured)
    {
        add(figure, known, measured, *figureInfo(m_test, figure));
    }
    void add(const std::string& figure, double known, std::optional<double> measured, const FigureInfo& info)
    {
        checks.push_back({m_title, figure, known, measured.value_or(std::numeric_limits<double>::quiet_NaN()),
                          info.allowed.at(known), info.name, info.unit});
    }
    void add(const std::string& figure, double known, const Reading& reading)
    {
        add(figure, known, reading.number(figure));
    }

    struct Stopped {};

private:
    std::string m_title, m_test;
};

std::optional<double> ofFirst(const Reading& reading, const char* list, const char* key)
{
    const auto& items = reading.figures.at(list);
    return items.empty() || !items[0].at(key).is_number() ? std::nullopt
                                                          : std::optional(items[0].at(key).get<double>());
}

void checkGain(Bench& bench, double gain_db)
{
    const Reading reading = bench.measure("response", "reference:gain", {{"gain_db", gain_db}});
    bench.add("gain_1k_db", gain_db, reading);
    bench.add("passband_db", gain_db, reading);
    bench.add("polarity", 1, reading);
}

/// A Butterworth low or high pass, with the slope where its octave lies in the band.
void checkPass(Bench& bench, bool low, double frequency_hz, int order)
{
    const Reading reading =
        bench.measure("response", low ? "reference:low-pass" : "reference:high-pass",
                      {{"frequency_hz", frequency_hz}, {"order", static_cast<double>(order)}});
    const auto paper = [&](double f) {
        double db = 0;
        for (int k = 0; k < order / 2; ++k)
            db += signal::powerToDb(std::norm((low ? signal::lowPass : signal::highPass)(
                                                  frequency_hz, signal::butterworthQ(k, order), checked_rate_hz)
                                                  .response(f, checked_rate_hz)));
        return db;
    };
    const std::string side = low ? "high" : "low";
    bench.add("corner_" + side + "_hz", frequency_hz, reading);
    bench.add("gain_1k_db", paper(1000), reading);
    const double octave_hz = low ? 2 * frequency_hz : frequency_hz / 2;
    const double next_hz = low ? 4 * frequency_hz : frequency_hz / 4;
    if (next_hz >= 10 && next_hz <= 0.45 * checked_rate_hz)
        bench.add("slope_" + side + "_db_per_octave", paper(octave_hz) - paper(next_hz), reading);
}

void checkShelf(Bench& bench, bool low, double frequency_hz, double gain_db)
{
    const Reading reading =
        bench.measure("response", low ? "reference:low-shelf" : "reference:high-shelf",
                      {{"frequency_hz", frequency_hz}, {"gain_db", gain_db}, {"q", 0.7071}});
    const auto filter =
        (low ? signal::lowShelf : signal::highShelf)(frequency_hz, gain_db, 0.7071, checked_rate_hz);
    bench.add("gain_1k_db", signal::powerToDb(std::norm(filter.response(1000, checked_rate_hz))), reading);
}

void checkPeak(Bench& bench, double frequency_hz, double gain_db, double q)
{
    const Reading reading = bench.measure("response", "reference:peak-filter",
                                          {{"frequency_hz", frequency_hz}, {"gain_db", gain_db}, {"q", q}});
    const auto filter = signal::peaking(frequency_hz, gain_db, q, checked_rate_hz);
    // The figures' definitions applied to the discrete filter's exact response: the passband that they
    // refer to is not quite 0 dB, because the skirts of the peak belong to what is counted.
    const auto paper = readMagnitude(
        [&](double f) { return signal::powerToDb(std::norm(filter.response(f, checked_rate_hz))); },
        checked_rate_hz);
    const char* list = gain_db > 0 ? "peaks" : "notches";
    const Extreme known = (gain_db > 0 ? paper.peaks : paper.notches).at(0);
    bench.add(std::string(list) + ".frequency_hz", frequency_hz, ofFirst(reading, list, "frequency_hz"),
              extreme_frequency);
    bench.add(std::string(list) + ".gain_db", known.gain_db, ofFirst(reading, list, "gain_db"),
              inList("response", list, "gain of the extreme", "dB"));
    bench.add(std::string(list) + ".q", *known.q, ofFirst(reading, list, "q"), extreme_q);
}

/// Fourier coefficient of the n-th harmonic of a unit sine clipped at `clip`, by Simpson's rule.
double clippedHarmonic(double clip, int n)
{
    constexpr int steps = 200000;
    const double width = std::numbers::pi / 2 / steps;
    double sum = 0;
    for (int i = 0; i <= steps; ++i) {
        const double x = i * width;
        const double weight = i == 0 || i == steps ? 1 : i % 2 == 1 ? 4 : 2;
        sum += weight * std::min(std::sin(x), clip) * std::sin(n * x);
    }
    return 4 / std::numbers::pi * sum * width / 3;
}

void checkHardClip(Bench& bench, double clip_dbfs)
{
    const Reading reading = bench.measure("harmonics", "reference:hard-clip", {{"clip_dbfs", clip_dbfs}});
    const double clip = signal::dbToLinear(clip_dbfs + 12); // against a tone at -12 dBFS
    const double fundamental = clippedHarmonic(clip, 1);
    double power = 0;
    for (int n = 3; n <= 19; n += 2) {
        const double harmonic = clippedHarmonic(clip, n) / fundamental;
        power += harmonic * harmonic;
        const auto& list = reading.figures.at("harmonics_db");
        const double known_db = signal::linearToDb(std::abs(harmonic));
        if (known_db > -100)
            bench.add("harmonics_db[" + std::to_string(n) + "]", known_db,
                      list.at(static_cast<std::size_t>(n - 2)).get<double>(),
                      inList("harmonics", "harmonics_db", "harmonic " + std::to_string(n), "dB"));
    }
    bench.add("thd_db", signal::powerToDb(power), reading);
    bench.add("odd_db", signal::powerToDb(power), reading);
    bench.add("thd_percent", 100 * std::sqrt(power), reading);
    bench.add("dc_offset", 0, reading);
    const Reading levels = bench.measure("transfer", "reference:hard-clip", {{"clip_dbfs", clip_dbfs}});
    bench.add("clip_level_dbfs", clip_dbfs, levels);
    bench.add("symmetry_db", 0, levels);
}

/// y = 1.5 u - 0.5 u^3: a third harmonic of a^3 / 8 against 1.5 a - 0.375 a^3, and nothing else.
void checkCubicClip(Bench& bench, double clip_dbfs)
{
    const std::vector<Setting> settings{{"clip_dbfs", clip_dbfs}};
    const Reading reading = bench.measure("harmonics", "reference:cubic-clip", settings);
    const double a = signal::dbToLinear(-12 - clip_dbfs);
    const double third = a * a * a / 8 / (1.5 * a - 0.375 * a * a * a);
    const double third_db = signal::linearToDb(third);
    bench.add("thd_db", third_db, reading);
    bench.add("thdn_db", signal::powerToDb(third * third / (1 + third * third)), reading);
    bench.add("harmonics_db[3]", third_db, reading.figures.at("harmonics_db").at(1).get<double>(),
              inList("harmonics", "harmonics_db", "harmonic 3", "dB"));
    bench.add("clip_level_dbfs", clip_dbfs, bench.measure("transfer", "reference:cubic-clip", settings));
}

void checkCompressor(Bench& bench, double threshold_db, double ratio, double knee_db, double makeup_db)
{
    const Reading reading = bench.measure(
        "transfer", "reference:compressor",
        {{"threshold_db", threshold_db}, {"ratio", ratio}, {"knee_db", knee_db}, {"makeup_db", makeup_db}});
    bench.add("threshold_db", threshold_db, reading);
    bench.add("ratio", ratio, reading);
    bench.add("knee_db", knee_db, reading);
    bench.add("makeup_db", makeup_db, reading);
    // Full scale lies -threshold_db over the threshold.
    bench.add("range_db", -threshold_db * (1 - 1 / ratio), reading);
}

void checkGate(Bench& bench, double threshold_db, double range_db)
{
    const Reading reading =
        bench.measure("transfer", "reference:gate", {{"threshold_db", threshold_db}, {"range_db", range_db}});
    bench.add("threshold_db", threshold_db, reading);
    bench.add("range_db", range_db, reading);
}

/// Power of the A curve (IEC 61672-1:2013) averaged over the band of white noise.
double aWeightedPart()
{
    constexpr double step_hz = 1;
    double sum = 0;
    for (double f = step_hz / 2; f < checked_rate_hz / 2; f += step_hz) {
        const double f2 = f * f;
        const double weight = 12194.217 * 12194.217 * f2 * f2 /
                              ((f2 + 20.599 * 20.599) * (f2 + 12194.217 * 12194.217) *
                               std::sqrt((f2 + 107.653 * 107.653) * (f2 + 737.862 * 737.862)));
        sum += weight * weight;
    }
    const double at_1_khz = signal::dbToLinear(-2.0); // there it is 0 dB by definition
    return sum * step_hz / (checked_rate_hz / 2) / (at_1_khz * at_1_khz);
}

void checkNoise(Bench& bench, double noise_dbfs)
{
    const Reading reading = bench.measure("noise", "reference:added-noise", {{"noise_dbfs", noise_dbfs}});
    bench.add("idle_dbfs", noise_dbfs, reading);
    bench.add("idle_a_weighted_dbfs", noise_dbfs + signal::powerToDb(aWeightedPart()), reading);
    bench.add("after_signal_dbfs", noise_dbfs, reading);
}

void checkShift(Bench& bench, double gain_db)
{
    const Reading reading = bench.measure("loudness_shift", "reference:gain", {{"gain_db", gain_db}});
    bench.add("shift_lu", gain_db, reading);
    bench.add("true_peak_change_db", gain_db, reading);
    bench.add("crest_change_db", 0, reading);
    bench.add("lra_change_lu", 0, reading);
}

/// Not told, so that it has to be found.
void checkLatency(Bench& bench, double samples)
{
    bench.add(
        "latency_found_samples", samples,
        bench.measure("cost", "reference:added-latency", {{"latency_samples", samples}, {"reported", 0}}));
}

void checkTimes(Bench& bench, double attack_ms, double hold_ms, double release_ms)
{
    const Reading reading =
        bench.measure("timing", "reference:compressor",
                      {{"attack_ms", attack_ms}, {"hold_ms", hold_ms}, {"release_ms", release_ms}});
    bench.add("attack_ms", attack_ms, reading);
    bench.add("hold_ms", hold_ms, reading);
    bench.add("release_ms", release_ms, reading);
    bench.add("attack_90_ms", attack_ms * std::numbers::ln10, reading);
    bench.add("release_90_ms", release_ms * std::numbers::ln10, reading);
}

void checkEchoes(Bench& bench, double delay_ms, double feedback_db)
{
    const Reading reading = bench.measure("echoes", "reference:feedback-delay",
                                          {{"delay_ms", delay_ms}, {"feedback_db", feedback_db}});
    bench.add("echoes.time_ms", delay_ms, ofFirst(reading, "echoes", "time_ms"),
              inList("echoes", "echoes", "time of the first echo", "ms"));
    bench.add("echoes.level_db", 0, ofFirst(reading, "echoes", "level_db"), echo_level);
    bench.add("repeat_ms", delay_ms, reading);
    bench.add("feedback_db", feedback_db, reading);
}

void checkReverb(Bench& bench, double rt60_s, double predelay_ms)
{
    const Reading reading =
        bench.measure("decay", "reference:noise-reverb", {{"rt60_s", rt60_s}, {"predelay_ms", predelay_ms}});
    bench.add("rt60_s", rt60_s, reading);
    bench.add("edt_s", rt60_s, reading);
    bench.add("predelay_ms", predelay_ms, reading);
}

void checkMovers(Bench& bench, double rate_hz, double depth_db, double depth_cents)
{
    const Reading level =
        bench.measure("movement", "reference:tremolo", {{"rate_hz", rate_hz}, {"depth_db", depth_db}});
    bench.add("amplitude_rate_hz", rate_hz, level);
    bench.add("amplitude_depth_db", depth_db, level);
    bench.add("stereo_phase_deg", 0, level);
    const Reading pitch =
        bench.measure("movement", "reference:vibrato", {{"rate_hz", rate_hz}, {"depth_cents", depth_cents}});
    bench.add("pitch_rate_hz", rate_hz, pitch);
    bench.add("pitch_depth_cents", depth_cents, pitch);
}

void checkReduction(Bench& bench, double bits, double held)
{
    const Reading reading =
        bench.measure("resolution", "reference:reduction", {{"bits", bits}, {"hold_samples", held}});
    bench.add("effective_bits", bits, reading);
    bench.add("held_samples", held, reading);
}

void checkWidth(Bench& bench, double width_db)
{
    const Reading reading = bench.measure("stereo", "reference:width", {{"width_db", width_db}});
    const double side = signal::dbToLinear(width_db);
    bench.add("width_db", width_db, reading);
    bench.add("crosstalk_db", signal::linearToDb(std::abs(1 - side) / (1 + side)), reading);
    bench.add("balance_db", 0, reading);
    bench.add("correlation", 1, reading);
}

/// The products of a cubic in closed form. Of the pair a sin x + b sin y the term -u^3 / 2 makes, at y +- 2x,
/// 3/8 a^2 b each, and nothing at y +- x; the tone b itself is left with b (1.5 - 3/8 b^2 - 3/4 a^2).
void checkProducts(Bench& bench, double clip_dbfs)
{
    const double peak = signal::dbToLinear(-12 - clip_dbfs);
    const double a = 0.8 * peak;
    const double b = 0.2 * peak;
    bench.add("smpte_percent", 100 * (3.0 / 4 * a * a * b) / (b * (1.5 - 3.0 / 8 * b * b - 3.0 / 4 * a * a)),
              bench.measure("intermodulation", "reference:cubic-clip", {{"clip_dbfs", clip_dbfs}}));
    // Its third harmonic alone folds: above 8 kHz at this rate, the same from every tone.
    bench.add("worst_alias_db",
              signal::linearToDb(peak * peak * peak / 8 / (1.5 * peak - 0.375 * peak * peak * peak)),
              bench.measure("aliasing", "reference:cubic-clip", {{"clip_dbfs", clip_dbfs}}));
}

} // namespace

std::vector<Check> selfcheck(const std::function<void(double)>& progress, const std::stop_token& cancel)
{
    Bench bench;
    bench.cancel = cancel;
    const std::vector<std::function<void()>> steps{
        [&] { checkGain(bench, 0); },
        [&] { checkGain(bench, -6); },
        [&] { checkGain(bench, 12.5); },
        [&] { checkPass(bench, true, 2000, 2); },
        [&] { checkPass(bench, true, 500, 4); },
        [&] { checkPass(bench, true, 12000, 8); },
        [&] { checkPass(bench, false, 150, 4); },
        [&] { checkPass(bench, false, 1000, 6); },
        [&] { checkShelf(bench, true, 900, 9); },
        [&] { checkShelf(bench, false, 1200, -7); },
        [&] { checkPeak(bench, 1000, 6, 1); },
        [&] { checkPeak(bench, 80, -9, 4); },
        [&] { checkPeak(bench, 9000, 3, 0.7); },
        [&] { checkHardClip(bench, -18); },
        [&] { checkHardClip(bench, -13); },
        [&] { checkCubicClip(bench, -10); },
        [&] { checkCompressor(bench, -24, 4, 6, 0); },
        [&] { checkCompressor(bench, -36, 1.5, 0, 3); },
        [&] { checkCompressor(bench, -18, 8, 12, -2); },
        [&] { checkGate(bench, -40, 60); },
        [&] { checkGate(bench, -25.3, 14); },
        [&] { checkNoise(bench, -60); },
        [&] { checkNoise(bench, -97); },
        [&] { checkShift(bench, 5.5); },
        [&] { checkLatency(bench, 1234); },
        [&] { checkTimes(bench, 3, 25, 80); },
        [&] { checkTimes(bench, 45, 10, 700); },
        [&] { checkEchoes(bench, 250, -6); },
        [&] { checkEchoes(bench, 17, -3.5); },
        [&] { checkReverb(bench, 0.6, 15); },
        [&] { checkReverb(bench, 1.8, 60); },
        [&] { checkMovers(bench, 5, 6, 20); },
        [&] { checkMovers(bench, 0.7, 15, 45); },
        [&] { checkReduction(bench, 8, 4); },
        [&] { checkReduction(bench, 14, 9); },
        [&] { checkWidth(bench, -9); },
        [&] { checkWidth(bench, 3); },
        [&] { checkProducts(bench, -10); },
    };
    for (std::size_t i = 0; i < steps.size(); ++i) {
        if (progress)
            progress(static_cast<double>(i) / static_cast<double>(steps.size()));
        try {
            steps[i]();
        } catch (const Bench::Stopped&) {
            break;
        }
    }
    return bench.checks;
}

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/noise.h"

#include "bench/magnitude.h"
#include "signal/generators.h"
#include "signal/levels.h"
#include "signal/transform.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace hr::bench {

namespace {

/// Below this it is rounding, not noise.
constexpr double nothing_dbfs = -180;
constexpr double hum_stands_out_db = 15;
constexpr double most_hum_hz = 1000;
constexpr double follows_by_db = 6;
/// A tail that falls by more than this between two neighbouring fifths of a second has not gone,
constexpr double still_decaying_db = 3;
/// nor one of which this share lies around the tone that stopped.
constexpr double still_tone_share = 0.5;
constexpr double stopped_tone_hz = 1000;

/// Gain of the A curve, 0 dB at 1 kHz (IEC 61672-1, annex E).
double aWeight(double frequency_hz)
{
    const double f2 = frequency_hz * frequency_hz;
    const auto corner = [&](double hz) { return f2 + hz * hz; };
    const double curve = 12194.0 * 12194.0 * f2 * f2 /
                         (corner(20.6) * std::sqrt(corner(107.7) * corner(737.9)) * corner(12194.0));
    return curve * signal::dbToLinear(2.0);
}

/// Power in each bin, so that its sum is the mean square of `sound`; with a Hann window.
std::vector<double> windowedPowers(const std::vector<double>& sound)
{
    const auto n = static_cast<double>(sound.size());
    std::vector<double> windowed(sound.size());
    for (std::size_t i = 0; i < sound.size(); ++i)
        windowed[i] = sound[i] * (1 - std::cos(2 * std::numbers::pi * static_cast<double>(i) / n));
    std::vector<double> power;
    for (const auto& bin : signal::forwardTransform(windowed))
        power.push_back(2 * std::norm(bin) / (n * n) / 1.5);
    return power;
}

double aWeightedDbfs(const std::vector<double>& power, double bin_hz)
{
    double sum = 0;
    for (std::size_t k = 1; k < power.size(); ++k) {
        const double weight = aWeight(static_cast<double>(k) * bin_hz);
        sum += power[k] * weight * weight;
    }
    return signal::powerToDb(2 * sum);
}

/// Lines that stand out of what is around them, by frequency.
std::vector<double> humOf(const std::vector<double>& power, double bin_hz)
{
    constexpr std::size_t around = 40; // bins each side
    const double threshold = std::pow(10, hum_stands_out_db / 10);
    std::vector<double> found;
    const auto last = std::min(static_cast<std::size_t>(most_hum_hz / bin_hz), power.size() - 2);
    for (auto k = static_cast<std::size_t>(20 / bin_hz); k <= last; ++k) {
        if (power[k] < power[k - 1] || power[k] <= power[k + 1])
            continue;
        std::vector<double> near(power.begin() + static_cast<std::ptrdiff_t>(k - std::min(k - 1, around)),
                                 power.begin() +
                                     static_cast<std::ptrdiff_t>(std::min(power.size(), k + around)));
        std::ranges::nth_element(near, near.begin() + static_cast<std::ptrdiff_t>(near.size() / 2));
        const double level = near[near.size() / 2];
        if (power[k] <= threshold * level || signal::powerToDb(2 * power[k]) < nothing_dbfs)
            continue;
        // The maximum of a parabola through the logarithms of three bins.
        const auto log = [&](std::size_t bin) { return std::log(std::max(power[bin], 1e-300)); };
        const double bend = log(k - 1) - 2 * log(k) + log(k + 1);
        const double aside = bend < 0 ? 0.5 * (log(k - 1) - log(k + 1)) / bend : 0;
        found.push_back((static_cast<double>(k) + aside) * bin_hz);
    }
    return found;
}

/// Level of each twelfth of an octave.
Curve spectrumOf(const std::vector<double>& power, double bin_hz)
{
    constexpr double half_band = 1.0 / 24;
    Curve curve{"frequency_hz", "band_dbfs", {}};
    const double highest_hz = static_cast<double>(power.size() - 1) * bin_hz;
    for (const double centre_hz : logarithmicGrid(20, 0.95 * highest_hz, 12)) {
        const double low = centre_hz * std::exp2(-half_band) / bin_hz;
        const double high = centre_hz * std::exp2(half_band) / bin_hz;
        double sum = 0;
        for (auto k = static_cast<std::size_t>(std::lround(low));
             static_cast<double>(k) < high + 0.5 && k < power.size(); ++k) {
            const double bin = static_cast<double>(k);
            sum += power[k] * (std::min(high, bin + 0.5) - std::max(low, bin - 0.5));
        }
        if (const double level_dbfs = signal::powerToDb(2 * sum); level_dbfs > nothing_dbfs)
            curve.points.emplace_back(centre_hz, level_dbfs);
    }
    return curve;
}

std::optional<double> levelOf(std::span<const double> sound)
{
    const double dbfs = signal::rmsDbfs(sound);
    return dbfs > nothing_dbfs ? std::optional(dbfs) : std::nullopt;
}

double shareAroundTone(std::span<const double> sound, double rate_hz)
{
    const auto power = windowedPowers({sound.begin(), sound.end()});
    const double bin_hz = rate_hz / static_cast<double>(sound.size());
    double all = 0;
    double around = 0;
    for (std::size_t k = 1; k < power.size(); ++k) {
        all += power[k];
        if (std::abs(static_cast<double>(k) * bin_hz - stopped_tone_hz) < 0.15 * stopped_tone_hz)
            around += power[k];
    }
    return all > 0 ? around / all : 0;
}

void putAfterSignal(Reading& reading, const std::vector<double>& after, double rate_hz)
{
    const auto window = [&](double from_s, double to_s) {
        return std::span<const double>(after).subspan(static_cast<std::size_t>(from_s * rate_hz),
                                                      static_cast<std::size_t>((to_s - from_s) * rate_hz));
    };
    const auto level = levelOf(window(0.1, 0.5));
    const auto early = levelOf(window(0.1, 0.3));
    const auto late = levelOf(window(0.3, 0.5));
    const bool decays = early && (!late || *early - *late > still_decaying_db ||
                                  shareAroundTone(window(0.1, 0.5), rate_hz) > still_tone_share);
    reading.put("after_signal_dbfs", decays ? std::nullopt : level,
                decays ? "the tail of the tone still decays" : "nothing but digital silence after the tone");
    const auto idle = reading.number("idle_dbfs");
    if (decays) {
        reading.put("follows_signal", std::nullopt, "the tail of the tone still decays");
        return;
    }
    reading.figures["follows_signal"] = level && *level - idle.value_or(nothing_dbfs) > follows_by_db;
}

} // namespace

const std::vector<FigureInfo>& noiseFigures()
{
    static const std::vector<FigureInfo> figures{
        {"idle_dbfs",
         "idle noise",
         "dBFS",
         1,
         Better::Lower,
         {0.2, 0},
         "RMS with nothing going in, whole band to half the sample rate",
         "AES17",
         "where there is any",
         FigureShape::Number,
         true},
        {"idle_a_weighted_dbfs",
         "idle noise, A-weighted",
         "dBFS",
         1,
         Better::Lower,
         {0.2, 0},
         "RMS with nothing going in, through the A curve",
         "IEC 61672-1",
         "where there is any"},
        {"after_signal_dbfs",
         "noise after the signal",
         "dBFS",
         1,
         Better::Lower,
         {0.2, 0},
         "RMS from 0.1 to 0.5 s after a tone has stopped",
         {},
         "where its tail has gone by then"},
        {"follows_signal",
         "noise follows the signal",
         "",
         0,
         Better::Neither,
         {},
         "whether the noise after the tone stands more than 6 dB above the idle noise",
         {},
         {},
         FigureShape::YesNo},
        {"hum_hz",
         "hum",
         "Hz",
         1,
         Better::Neither,
         {0, 0.01},
         "lines below 1 kHz that stand 15 dB out of the noise around them",
         {},
         {},
         FigureShape::List}};
    return figures;
}

hosting::FaultOr<Reading> measureNoise(Subject& subject)
{
    const double rate_hz = subject.conditions().sample_rate_hz;
    const auto frames = [&](double seconds) { return static_cast<std::size_t>(seconds * rate_hz); };
    if (auto ready = subject.restart(); !ready)
        return tl::make_unexpected(ready.error());
    auto settled = subject.process(std::vector<double>(frames(1)));
    if (!settled)
        return tl::make_unexpected(settled.error());
    auto idle = subject.process(std::vector<double>(frames(2)));
    if (!idle)
        return tl::make_unexpected(idle.error());
    const double amplitude = signal::dbToLinear(subject.conditions().level_dbfs.value_or(-12));
    if (auto tone = subject.process(signal::sine(stopped_tone_hz, amplitude, rate_hz, frames(2))); !tone)
        return tl::make_unexpected(tone.error());
    const auto late = subject.latencyReportedSamples();
    auto after = subject.process(std::vector<double>(frames(0.6) + late));
    if (!after)
        return tl::make_unexpected(after.error());

    Reading reading;
    const std::vector<double> noise = asDoubles(idle->channel(0));
    const auto idle_dbfs = levelOf(std::span<const double>(noise));
    const std::string silent = "nothing but digital silence";
    reading.put("idle_dbfs", idle_dbfs, silent);
    const double bin_hz = rate_hz / static_cast<double>(noise.size());
    const auto power = windowedPowers(noise);
    reading.put("idle_a_weighted_dbfs", idle_dbfs ? std::optional(aWeightedDbfs(power, bin_hz)) : std::nullopt,
                silent);
    auto tail = asDoubles(after->channel(0));
    tail.erase(tail.begin(), tail.begin() + static_cast<std::ptrdiff_t>(late));
    putAfterSignal(reading, tail, rate_hz);
    if (idle_dbfs)
        reading.series["spectrum"] = spectrumOf(power, bin_hz);
    reading.figures["hum_hz"] = idle_dbfs ? humOf(power, bin_hz) : std::vector<double>();
    return reading;
}

} // namespace hr::bench

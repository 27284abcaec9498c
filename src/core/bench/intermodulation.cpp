// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/intermodulation.h"

#include "bench/steady_tone.h"
#include "signal/generators.h"
#include "signal/levels.h"

#include <algorithm>
#include <cmath>

namespace hr::bench {

namespace {

using hosting::FaultOr;

constexpr double pair_level_dbfs = -12; // peak of both together

/// Two tones of whole hertz: a window of a second holds whole cycles of both and of all they make.
struct Pair {
    double low_hz, high_hz;
    double low_share;   ///< of the peak of both together
    const char* figure; ///< that is read of it

    std::vector<double> samples(double peak, double rate_hz, std::size_t first, std::size_t frames) const
    {
        auto sum = signal::sine(low_hz, peak * low_share, rate_hz, frames, first);
        const auto high = signal::sine(high_hz, peak * (1 - low_share), rate_hz, frames, first);
        for (std::size_t i = 0; i < frames; ++i)
            sum[i] += high[i];
        return sum;
    }
};
constexpr Pair smpte_pair{60, 7000, 0.8, "smpte_percent"};
constexpr Pair difference_pair{19000, 20000, 0.5, "difference_db"};

struct Feed {
    double level_dbfs, settling_s;
};

/// Powers by bins of 1 Hz of the settled answer.
FaultOr<std::vector<double>> powersOf(Reading& reading, Subject& subject, const Pair& pair, const Feed& feed)
{
    const double rate_hz = subject.conditions().sample_rate_hz;
    const auto second = static_cast<std::size_t>(std::lround(rate_hz));
    if (auto started = subject.restart(); !started)
        return tl::make_unexpected(started.error());
    const Course course = [&](std::size_t first, std::size_t frames) {
        return pair.samples(signal::dbToLinear(feed.level_dbfs), rate_hz, first, frames);
    };
    auto window = settledWindow(subject, course, second, {feed.settling_s}); // whole cycles of all of them
    if (!window)
        return tl::make_unexpected(window.error());
    flagMovement(reading, *window, static_cast<std::size_t>(std::lround(pair.high_hz)), {pair.figure});
    return powerSpectrum(window->samples);
}

double amplitude(const std::vector<double>& power, double hz)
{
    return std::sqrt(2 * power[static_cast<std::size_t>(std::lround(hz))]);
}

constexpr double least_line_db = -140; // below is the noise of 32-bit arithmetic
constexpr int most_sidebands = 4;      // to each side
constexpr double most_product_hz = 24000;

/// Whatever stands at `from_hz + n step_hz` against a tone of this amplitude, n from `first` to `last`; over
/// n step_hz in units of `unit_hz`.
struct Comb {
    double from_hz, step_hz;
    int first, last;
    double unit_hz;
};
std::vector<std::pair<double, double>> linesOf(const std::vector<double>& power, const Comb& comb, double tone)
{
    std::vector<std::pair<double, double>> lines;
    for (int n = comb.first; n <= comb.last; ++n) {
        const double away_hz = n * comb.step_hz;
        const double level_db = signal::linearToDb(amplitude(power, comb.from_hz + away_hz) / tone);
        if (level_db > least_line_db)
            lines.emplace_back(away_hz / comb.unit_hz, level_db);
    }
    return lines;
}

FaultOr<void> putSmpte(Reading& reading, Subject& subject, const Feed& feed)
{
    auto power = powersOf(reading, subject, smpte_pair, feed);
    if (!power)
        return tl::make_unexpected(power.error());
    const double carrier = amplitude(*power, smpte_pair.high_hz);
    if (signal::linearToDb(carrier) < no_tone_dbfs) {
        reading.put("smpte_percent", std::nullopt, "the tone of 7 kHz did not come through");
        return {};
    }
    double squares = 0;
    for (const double order : {1.0, 2.0}) {
        const double away_hz = order * smpte_pair.low_hz;
        const double both =
            amplitude(*power, smpte_pair.high_hz - away_hz) + amplitude(*power, smpte_pair.high_hz + away_hz);
        squares += both * both;
    }
    reading.put("smpte_percent", 100 * std::sqrt(squares) / carrier);
    reading.series["smpte_lines"] = {
        "beside_hz", "level_db",
        linesOf(*power, {smpte_pair.high_hz, smpte_pair.low_hz, -most_sidebands, most_sidebands, 1}, carrier)};
    return {};
}

FaultOr<void> putDifference(Reading& reading, Subject& subject, const Feed& feed)
{
    if (subject.conditions().sample_rate_hz <= 2 * difference_pair.high_hz) {
        reading.put("difference_db", std::nullopt, "20 kHz lies above half the sample rate");
        return {};
    }
    auto power = powersOf(reading, subject, difference_pair, feed);
    if (!power)
        return tl::make_unexpected(power.error());
    // Both left with the same level; whichever a filter weakened less is the reference.
    const double tone =
        std::max(amplitude(*power, difference_pair.low_hz), amplitude(*power, difference_pair.high_hz));
    if (signal::linearToDb(tone) < no_tone_dbfs) {
        reading.put("difference_db", std::nullopt, "the tones of 19 and 20 kHz did not come through");
        return {};
    }
    const double product = amplitude(*power, difference_pair.high_hz - difference_pair.low_hz);
    reading.put("difference_db", signal::linearToDb(product / tone), "there is no product at 1 kHz at all");
    const double apart_hz = difference_pair.high_hz - difference_pair.low_hz;
    const double last_hz = std::min(most_product_hz, subject.conditions().sample_rate_hz / 2) - 1;
    reading.series["difference_lines"] = {
        "product_khz", "level_db",
        linesOf(*power, {0, apart_hz, 1, static_cast<int>(last_hz / apart_hz), 1000}, tone)};
    return {};
}

} // namespace

const std::vector<FigureInfo>& intermodulationFigures()
{
    static const std::vector<FigureInfo> figures{
        {.key = "smpte_percent",
         .name = "SMPTE intermodulation",
         .unit = "%",
         .digits = 4,
         .better = Better::Lower,
         .allowed = {0, 0.0116}, // 0.1 dB
         .definition =
             "60 Hz and 7 kHz, 4:1: root of the summed squares of the sidebands at 60 and 120 Hz, each "
             "the sum of its two amplitudes, against the tone of 7 kHz",
         .source = "SMPTE RP 120"},
        {.key = "difference_db",
         .name = "difference tone",
         .unit = "dB",
         .digits = 2,
         .better = Better::Lower,
         .allowed = {0.1, 0},
         .definition = "19 and 20 kHz, 1:1: the product at 1 kHz against one of the two tones",
         .source = "IEC 60268-3",
         .applies = "at sample rates above 40 kHz"}};
    return figures;
}

FaultOr<Reading> measureIntermodulation(Subject& subject)
{
    const double level_dbfs = subject.conditions().level_dbfs.value_or(pair_level_dbfs);
    const auto settling_s = settlingS(subject, 1000, level_dbfs);
    if (!settling_s)
        return tl::make_unexpected(settling_s.error());
    const Feed feed{level_dbfs, *settling_s};
    Reading reading;
    reading.conditions = {{"level_dbfs", level_dbfs}};
    if (subject.conditions().sample_rate_hz < 2 * (smpte_pair.high_hz + 2 * smpte_pair.low_hz) + 1)
        reading.put("smpte_percent", std::nullopt, "7 kHz and its sidebands lie above half the sample rate");
    else if (auto done = putSmpte(reading, subject, feed); !done)
        return tl::make_unexpected(done.error());
    if (auto done = putDifference(reading, subject, feed); !done)
        return tl::make_unexpected(done.error());
    return reading;
}

} // namespace hr::bench

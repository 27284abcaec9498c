// SPDX-License-Identifier: GPL-3.0-or-later
//
// What the bench reads off whatever a processor may have answered: figures that are finite and within what
// their definitions allow, or none. The first byte says what is read, the second how loud it is.
#include "bench/arrivals.h"
#include "bench/extent.h"
#include "bench/gain_trace.h"
#include "bench/level_curve.h"
#include "bench/magnitude.h"
#include "bench/modulation.h"
#include "bench/reverberation.h"
#include "fuzz.h"

#include <algorithm>
#include <array>
#include <cmath>

using namespace hr;

namespace {

constexpr double rate_hz = 8000; // few bytes are a long time

using Samples = std::vector<double>;

void mustBeFinite(const std::optional<double>& figure)
{
    fuzz::must(!figure || std::isfinite(*figure));
}

/// In dB, a step a point, from silence to far beyond full scale.
void readLevels(const Samples& samples)
{
    if (samples.size() < 8)
        return;
    bench::LevelCurve curve;
    for (const double sample : samples) {
        const double in_dbfs = -60 + static_cast<double>(curve.size());
        curve.emplace_back(in_dbfs, std::clamp(in_dbfs + 60 * sample, -200.0, 60.0));
        if (curve.size() == 61)
            break;
    }
    const bench::LevelFigures figures = bench::readLevelCurve(curve);
    fuzz::must(!figures.kind.empty() && std::isfinite(figures.misfit_db));
    for (const auto& figure :
         {figures.threshold_db, figures.ratio, figures.knee_db, figures.makeup_db, figures.range_db})
        mustBeFinite(figure);
    fuzz::must(!figures.ratio || *figures.ratio >= 1);
    fuzz::must(!figures.range_db || *figures.range_db >= 0);
}

void readResponse(const Samples& samples)
{
    if (samples.size() < 2)
        return;
    const auto figures = bench::readMagnitude(
        [&](double hz) {
            const double at =
                std::clamp(std::log2(hz / 10) / 12, 0.0, 1.0) * static_cast<double>(samples.size() - 2);
            const auto below = static_cast<std::size_t>(at);
            return 80 * std::lerp(samples[below], samples[below + 1], at - static_cast<double>(below));
        },
        48000);
    fuzz::must(std::isfinite(figures.passband_db));
    for (const auto& corner : {figures.corner_low_hz, figures.corner_high_hz})
        fuzz::must(!corner || (*corner > 0 && *corner <= 24000));
    for (const auto* extremes : {&figures.peaks, &figures.notches})
        for (const bench::Extreme& one : *extremes)
            fuzz::must(std::isfinite(one.gain_db) && one.frequency_hz > 0 && (!one.q || *one.q > 0));
}

void readDecay(const Samples& samples)
{
    if (samples.empty())
        return;
    auto band = bench::Octaves(samples, rate_hz).around(500);
    fuzz::must(band.size() == samples.size());
    for (double& sample : band) {
        fuzz::must(std::isfinite(sample));
        sample *= sample;
    }
    const bench::DecayTimes times = bench::decayTimes(band, rate_hz);
    fuzz::must(!times.t30_s || (std::isfinite(*times.t30_s) && *times.t30_s > 0));
    fuzz::must(!times.edt_s || (std::isfinite(*times.edt_s) && *times.edt_s > 0));
    fuzz::must(std::ranges::all_of(times.curve_db, [](double db) { return std::isfinite(db); }));
    mustBeFinite(bench::denseAfterS(samples, rate_hz));
}

void readArrivals(const Samples& samples)
{
    if (samples.size() < 64)
        return;
    const auto arrivals = bench::arrivalsIn({samples}, samples.size(), rate_hz);
    fuzz::must(arrivals.list.size() <= 64 && std::isfinite(arrivals.fall_db));
    for (const bench::Arrival& one : arrivals.list)
        fuzz::must(std::isfinite(one.power) && one.power >= 0 && one.at >= -1 &&
                   one.at <= static_cast<double>(samples.size()) + 1);
    (void)arrivals.explained(bench::directSound(arrivals, 0, rate_hz));
}

void readMovement(const Samples& samples)
{
    if (samples.size() < 32)
        return;
    const auto found = bench::periodicityOf(samples, 1000);
    fuzz::must(!found || (std::isfinite(found->rate_hz) && found->rate_hz > 0 &&
                          bench::apartDeg(samples, samples, 1000, found->rate_hz) <= 180));
    const auto swing = bench::extentOf(samples, 1000, found ? std::optional(found->rate_hz) : std::nullopt);
    fuzz::must(std::isfinite(swing.lowest) && swing.lowest <= swing.highest);
    fuzz::must(std::isfinite(bench::wowAndFlutterPercent(samples, 1000)));
}

void readTimes(const Samples& samples)
{
    if (samples.size() < 8)
        return;
    const bench::GainChange change{samples.front(), samples.back()};
    for (const double share : {0.632, 0.9}) {
        const auto time_s = bench::timeOf(samples, change, share, rate_hz);
        fuzz::must(!time_s || (std::isfinite(*time_s) && *time_s >= 0));
    }
    mustBeFinite(bench::standstillOf(samples, change, rate_hz));
    const bench::SteppedCycle tone{1000, -20, -10, rate_hz, 0};
    const auto trace = bench::withoutRinging(bench::gainTrace(samples, tone), change, tone);
    fuzz::must(std::ranges::all_of(trace, [](double db) { return std::isfinite(db); }));
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    if (size < 4)
        return 0;
    constexpr std::array reads{readLevels, readResponse, readDecay, readArrivals, readMovement, readTimes};
    const double loud = std::pow(10, (data[1] - 200) / 20.0); // some far too quiet, some too loud
    Samples samples;
    for (std::size_t i = 2; i + 1 < size; i += 2) {
        const auto word = static_cast<std::int16_t>(data[i] | data[i + 1] << 8);
        samples.push_back(loud * word / 32768.0);
    }
    reads[data[0] % reads.size()](samples);
    return 0;
}

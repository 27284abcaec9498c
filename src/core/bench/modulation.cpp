// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/modulation.h"

#include "bench/curve.h"
#include "bench/folding.h"
#include "bench/least_squares.h"
#include "signal/levels.h"
#include "signal/transform.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <numeric>

namespace hr::bench {

namespace {

constexpr double pi = std::numbers::pi;
constexpr double slowest_hz = 0.01;
constexpr int period_harmonics = 5;
constexpr double least_periods = 2;
/// A curve repeats where it is so similar to itself, after the first lag that is nearly the best.
constexpr double least_similar = 0.3;
constexpr double nearly_as_similar = 0.9;
constexpr std::size_t enough_values = 4000;
constexpr std::size_t values_a_period = 40;
/// A lag of fewer values may be that of several periods: no single one is near a whole number of values.
constexpr double short_lag_values = 20;
constexpr int most_periods_a_lag = 8;
constexpr double mostly_one_wave = 0.7;
constexpr double mostly_fundamental = 0.5;
constexpr double phase_step_deg = 0.1;

std::vector<double> withoutMean(std::span<const double> curve)
{
    const double mean = std::accumulate(curve.begin(), curve.end(), 0.0) / static_cast<double>(curve.size());
    std::vector<double> moved(curve.begin(), curve.end());
    for (double& value : moved)
        value -= mean;
    return moved;
}

/// Least squares on a constant and sines and cosines of the first harmonics of `rate_hz`: the coefficients, and
/// the share of the variance that they explain.
struct PeriodicFit {
    std::vector<double> coefficients;
    double explained = 0;
};

PeriodicFit fitAt(const std::vector<double>& curve, double curve_rate_hz, double rate_hz,
                  std::size_t harmonics = period_harmonics)
{
    const auto used =
        std::clamp<std::size_t>(static_cast<std::size_t>(0.4 * curve_rate_hz / rate_hz), 1, harmonics);
    const std::size_t terms = 2 * used + 1;
    std::vector<double> normal(terms * terms);
    std::vector<double> right(terms);
    std::vector<double> row(terms, 1.0);
    double variance = 0;
    for (std::size_t i = 0; i < curve.size(); ++i) {
        for (std::size_t h = 1; h <= used; ++h) {
            const double angle = 2 * pi * rate_hz * static_cast<double>(h * i) / curve_rate_hz;
            row[2 * h - 1] = std::sin(angle);
            row[2 * h] = std::cos(angle);
        }
        for (std::size_t k = 0; k < terms; ++k) {
            right[k] += row[k] * curve[i];
            for (std::size_t j = 0; j < terms; ++j)
                normal[k * terms + j] += row[k] * row[j];
        }
        variance += curve[i] * curve[i];
    }
    PeriodicFit fit{solved(normal, right), 0};
    fit.explained =
        variance > 0
            ? std::clamp(std::inner_product(right.begin(), right.end(), fit.coefficients.begin(), 0.0) /
                             variance,
                         0.0, 1.0)
            : 0;
    return fit;
}

/// How many periods a lag of few values is, where one wave is most of the curve.
int periodsIn(const std::vector<double>& curve, double curve_rate_hz, double rate_hz)
{
    int periods = 1;
    double most = mostly_one_wave;
    for (int n = 1; n <= most_periods_a_lag && n * rate_hz < curve_rate_hz / 2; ++n)
        if (const double explained = fitAt(curve, curve_rate_hz, n * rate_hz, 1).explained; explained > most) {
            most = explained;
            periods = n;
        }
    return periods;
}

/// Means of n values each.
std::vector<double> thinned(const std::vector<double>& curve, std::size_t n)
{
    std::vector<double> thin;
    for (std::size_t i = 0; i + n <= curve.size(); i += n)
        thin.push_back(std::accumulate(curve.begin() + static_cast<std::ptrdiff_t>(i),
                                       curve.begin() + static_cast<std::ptrdiff_t>(i + n), 0.0) /
                       static_cast<double>(n));
    return thin;
}

/// Similarity of the curve with itself, later by each number of its values: 1 the same, 0 unrelated.
std::vector<double> autocorrelation(const std::vector<double>& curve)
{
    std::vector<double> padded(signal::fastSize(2 * curve.size()));
    std::ranges::copy(curve, padded.begin());
    auto bins = signal::forwardTransform(padded);
    for (auto& bin : bins)
        bin = std::norm(bin);
    auto similar = signal::inverseTransform(bins, padded.size());
    similar.resize(curve.size() / static_cast<std::size_t>(least_periods) + 1);
    const double whole = similar.front() / static_cast<double>(curve.size());
    for (std::size_t lag = 0; lag < similar.size(); ++lag)
        similar[lag] /= static_cast<double>(curve.size() - lag) * whole;
    return similar;
}

/// The shortest lag after which the curve is nearly as similar to itself as it ever becomes; 0: there is none.
std::size_t repeatsAfter(const std::vector<double>& similar)
{
    std::size_t first = 0;
    while (first < similar.size() && similar[first] > 0.5) // it is similar to what it was a moment ago
        ++first;
    double most = least_similar;
    for (std::size_t lag = first; lag < similar.size(); ++lag)
        most = std::max(most, similar[lag]);
    for (std::size_t lag = first + 1; lag + 1 < similar.size(); ++lag)
        if (similar[lag] >= nearly_as_similar * most && similar[lag] >= similar[lag - 1] &&
            similar[lag] >= similar[lag + 1])
            return lag;
    return 0;
}

/// A lag between two values, and how far it may be off.
struct ExactLag {
    double values = 0;
    double off_by = 0;
};

/// A short lag followed to where it has passed 2, 4, 8 … times, each time with so much less to be off: a fast
/// movement is out of step with itself after a second if its lag is a whole number of values.
ExactLag exactly(const std::vector<double>& similar, std::size_t lag)
{
    ExactLag exact{static_cast<double>(lag), 0.5};
    for (double times = 1;; times *= 2) {
        auto top = static_cast<std::size_t>(std::lround(times * exact.values));
        if (top + 2 >= similar.size())
            return exact;
        while (similar[top + 1] > similar[top] && top + 2 < similar.size())
            ++top;
        while (similar[top - 1] > similar[top] && top > 1)
            --top;
        if (similar[top] < least_similar ||
            std::abs(static_cast<double>(top) - times * exact.values) > 0.25 * exact.values)
            return exact;
        const double bend = similar[top - 1] - 2 * similar[top] + similar[top + 1];
        const double aside = bend < 0 ? 0.5 * (similar[top - 1] - similar[top + 1]) / bend : 0;
        exact = {(static_cast<double>(top) + aside) / times, 0.5 / times};
    }
}

/// Share of the variance of a curve without mean that the mean period has.
double explainedByFolding(const std::vector<double>& curve, double curve_rate_hz, double rate_hz)
{
    const Folded fold = folded(curve, curve_rate_hz, rate_hz);
    double explained = 0;
    for (std::size_t part = 0; part < fold.sums.size(); ++part)
        if (fold.counts[part] > 0)
            explained += fold.sums[part] * fold.sums[part] / fold.counts[part];
    const double all = std::inner_product(curve.begin(), curve.end(), curve.begin(), 0.0);
    return all > 0 ? std::min(1.0, explained / all) : 0;
}

/// Phase of the fundamental.
double phaseAtDeg(std::span<const double> curve, double curve_rate_hz, double rate_hz)
{
    const PeriodicFit fit = fitAt(withoutMean(curve), curve_rate_hz, rate_hz);
    return std::atan2(fit.coefficients[2], fit.coefficients[1]) * 180 / pi;
}

/// The harmonics of the mean period, without its mean.
std::vector<std::complex<double>> periodOf(std::span<const double> curve, double curve_rate_hz, double rate_hz)
{
    Folded fold = folded(withoutMean(curve), curve_rate_hz, rate_hz);
    for (std::size_t part = 0; part < fold.sums.size(); ++part)
        fold.sums[part] /= std::max(1.0, fold.counts[part]);
    auto bins = signal::forwardTransform(fold.sums);
    bins.front() = 0;
    return bins;
}

/// The best rate near `around_hz`, by narrowing steps.
template<class Explained>
double refined(double around_hz, double step_hz, const Explained& explained)
{
    double best_hz = around_hz;
    double best = explained(best_hz);
    for (int round = 0; round < 40; ++round) {
        bool moved = false;
        for (const double other_hz : {best_hz - step_hz, best_hz + step_hz}) {
            if (other_hz < slowest_hz)
                continue;
            const double now = explained(other_hz);
            if (now > best) {
                best = now;
                best_hz = other_hz;
                moved = true;
                break;
            }
        }
        if (!moved)
            step_hz /= 2;
    }
    return best_hz;
}

/// Gain of the weighting filter (IEC 60386:1972, table 1).
double flutterWeightDb(double frequency_hz)
{
    static const Points table{{0.1, -48}, {0.2, -30.6}, {0.315, -19.7}, {0.4, -15},   {0.63, -8.4}, {0.8, -6},
                              {1, -4.2},  {1.6, -1.8},  {2, -0.9},      {4, 0},       {6.3, -0.9},  {10, -2.1},
                              {20, -5.9}, {40, -10.4},  {63, -14.2},    {100, -17.3}, {200, -23}};
    static const Points by_octaves = [] {
        Points points;
        for (const auto& [hz, db] : table)
            points.emplace_back(std::log2(hz), db);
        return points;
    }();
    return frequency_hz < 0.05 ? -60 : valueAt(by_octaves, std::log2(frequency_hz));
}

/// Of a Hann window, so many of its bins off the middle.
double hannGain(double bins)
{
    const double x = std::clamp(std::abs(bins), 1e-6, 0.9);
    return std::sin(pi * x) / (pi * x) / (1 - x * x);
}

} // namespace

Demodulated demodulated(std::span<const double> tone, std::size_t cycle_frames, double sample_rate_hz,
                        std::size_t cycles)
{
    // A Hann window over whole cycles leaves nothing of what the product has at twice the carrier.
    const std::size_t window = cycles * cycle_frames;
    const std::size_t hop = window / 2;
    std::vector<std::complex<double>> weights(window);
    for (std::size_t i = 0; i < window; ++i)
        weights[i] = std::polar((1 - std::cos(2 * pi * static_cast<double>(i) / static_cast<double>(window))) *
                                    2 / static_cast<double>(window),
                                -2 * pi * static_cast<double>(i) / static_cast<double>(cycle_frames));
    Demodulated curves{{}, {}, sample_rate_hz / static_cast<double>(hop)};
    std::complex<double> before;
    for (std::size_t at = 0; at + window <= tone.size(); at += hop) {
        std::complex<double> now;
        for (std::size_t i = 0; i < window; ++i)
            now += tone[at + i] * weights[i];
        curves.level_db.push_back(std::max(-200.0, signal::linearToDb(std::abs(now))));
        // Turns from one look to the next.
        if (at > 0)
            curves.deviation_parts.push_back(std::arg(now * std::conj(before)) / (2 * pi) * 2 /
                                             static_cast<double>(cycles));
        before = now;
    }
    // Off its frequency a tone is seen weaker through the window than it is.
    for (std::size_t i = 0; i < curves.deviation_parts.size(); ++i)
        curves.level_db[i] -=
            signal::linearToDb(hannGain(static_cast<double>(cycles) * curves.deviation_parts[i]));
    return curves;
}

std::optional<Periodicity> periodicityOf(std::span<const double> curve, double curve_rate_hz)
{
    const auto moved = withoutMean(curve);
    if (std::ranges::max(moved) - std::ranges::min(moved) <= 0)
        return std::nullopt;
    const auto similar = autocorrelation(moved);
    const std::size_t lag = repeatsAfter(similar);
    if (lag == 0)
        return std::nullopt;
    // Waves are as exact as the whole record is long.
    const ExactLag exact = exactly(similar, lag);
    const double lag_hz = curve_rate_hz / exact.values;
    const auto byFolding = [&](double hz) { return explainedByFolding(moved, curve_rate_hz, hz); };
    // Waves need no more than some values a period.
    const std::size_t n =
        std::max<std::size_t>(1, std::min(moved.size() / enough_values, lag / values_a_period));
    const auto thin = thinned(moved, n);
    const auto byWaves = [&](double hz) {
        return fitAt(thin, curve_rate_hz / static_cast<double>(n), hz).explained;
    };
    const double step_hz = exact.off_by * lag_hz / exact.values;
    Periodicity period{refined(lag_hz, step_hz, byWaves)};
    period.explained = byWaves(period.rate_hz);
    const double folding_hz = refined(period.rate_hz, step_hz / 8, byFolding);
    if (const double explained = byFolding(folding_hz); explained > period.explained)
        period = {folding_hz, explained};
    if (exact.values < short_lag_values)
        period.rate_hz *= periodsIn(moved, curve_rate_hz, period.rate_hz);
    return period;
}

double explainedAt(std::span<const double> curve, double curve_rate_hz, double rate_hz)
{
    return explainedByFolding(withoutMean(curve), curve_rate_hz, rate_hz);
}

double apartDeg(std::span<const double> one, std::span<const double> other, double curve_rate_hz,
                double rate_hz)
{
    const auto a = periodOf(one, curve_rate_hz, rate_hz);
    const auto b = periodOf(other, curve_rate_hz, rate_hz);
    double all = 0;
    std::vector<std::complex<double>> both;
    for (std::size_t h = 0; h < a.size(); ++h) {
        both.push_back(b[h] * std::conj(a[h]));
        all += std::abs(both.back());
    }
    double best_deg = phaseAtDeg(other, curve_rate_hz, rate_hz) - phaseAtDeg(one, curve_rate_hz, rate_hz);
    if (std::abs(both[1]) < mostly_fundamental * all) {
        double best = -1e300;
        for (double deg = -180; deg < 180; deg += phase_step_deg) {
            double alike = 0;
            for (std::size_t h = 1; h < both.size(); ++h)
                alike += std::real(both[h] * std::polar(1.0, -pi / 180 * deg * static_cast<double>(h)));
            if (alike > best) {
                best = alike;
                best_deg = deg;
            }
        }
    }
    return std::abs(std::remainder(best_deg, 360.0));
}

double wowAndFlutterPercent(std::span<const double> deviation_parts, double curve_rate_hz)
{
    const auto moved = withoutMean(deviation_parts);
    auto bins = signal::forwardTransform(moved);
    for (std::size_t k = 0; k < bins.size(); ++k)
        bins[k] *= signal::dbToLinear(
            flutterWeightDb(static_cast<double>(k) * curve_rate_hz / static_cast<double>(moved.size())));
    auto weighted = signal::inverseTransform(bins, moved.size());
    for (double& value : weighted)
        value = std::abs(value);
    const auto at = weighted.begin() + static_cast<std::ptrdiff_t>(weighted.size() * 95 / 100);
    std::ranges::nth_element(weighted, at);
    return 100 * *at;
}

} // namespace hr::bench

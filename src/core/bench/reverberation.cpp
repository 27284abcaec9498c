// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/reverberation.h"

#include "signal/levels.h"
#include "signal/transform.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <numeric>

namespace hr::bench {

namespace {

constexpr double block_s = 0.01;
constexpr double clear_of_noise = 10; // in power
/// What falls in steps has no slope.
constexpr double least_r_squared = 0.8;
/// What is beyond the noise is known well enough.
constexpr double settled_within = 1e-4;
constexpr double density_window_s = 0.02;
/// Of Gaussian noise, so much lies beyond one standard deviation.
constexpr double gaussian_share = 0.3173;

struct Line {
    double slope = 0; // y for one of x
    double r_squared = 0;
};

Line lineThrough(std::span<const double> y)
{
    const auto n = static_cast<double>(y.size());
    const double mean_x = (n - 1) / 2;
    const double mean_y = std::accumulate(y.begin(), y.end(), 0.0) / n;
    double xy = 0;
    double xx = 0;
    double yy = 0;
    for (std::size_t i = 0; i < y.size(); ++i) {
        const double dx = static_cast<double>(i) - mean_x;
        xy += dx * (y[i] - mean_y);
        xx += dx * dx;
        yy += (y[i] - mean_y) * (y[i] - mean_y);
    }
    return {xy / xx, yy > 0 ? xy * xy / (xx * yy) : 0};
}

/// Time that a fall of 60 dB takes on the line through the curve between two levels; empty where the curve
/// does not come so far down.
std::optional<double> fallTime(std::span<const double> curve_db, double from_db, double to_db,
                               double sample_rate_hz, double* bent_permille = nullptr)
{
    const auto below = [&](double level_db) {
        return std::ranges::find_if(curve_db, [&](double db) { return db <= level_db; });
    };
    const auto first = below(from_db);
    const auto last = below(to_db);
    if (last == curve_db.end() || last - first < 3)
        return std::nullopt;
    const Line line = lineThrough({first, last});
    if (bent_permille)
        *bent_permille = 1000 * (1 - line.r_squared);
    return line.slope < 0 && line.r_squared > least_r_squared ? std::optional(-60 / line.slope / sample_rate_hz)
                                                              : std::nullopt;
}

/// Mean power of stretches of 10 ms.
std::vector<double> blocks(std::span<const double> power, std::size_t length)
{
    std::vector<double> means;
    for (std::size_t at = 0; at + length <= power.size(); at += length) {
        const auto part = power.subspan(at, length);
        means.push_back(std::accumulate(part.begin(), part.end(), 0.0) / static_cast<double>(length));
    }
    return means;
}

/// Backward integration up to `end`, in dB of the whole; `beyond` is what it would have gone on to hold.
std::vector<double> schroeder(std::span<const double> power, double noise, std::size_t end, double beyond)
{
    std::vector<double> curve(end);
    double sum = beyond;
    for (std::size_t i = end; i-- > 0;) {
        sum += power[i] - noise;
        curve[i] = sum;
    }
    const double whole = curve.empty() ? 1 : std::max(curve.front(), 1e-300);
    for (double& value : curve)
        value = signal::powerToDb(std::max(value / whole, 1e-20));
    return curve;
}

} // namespace

DecayTimes decayTimes(std::span<const double> power, double sample_rate_hz)
{
    const auto length = static_cast<std::size_t>(block_s * sample_rate_hz);
    const auto means = blocks(power, length);
    if (means.size() < 10)
        return {};
    const std::size_t tenth = means.size() / 10;
    const double noise = std::accumulate(means.end() - static_cast<std::ptrdiff_t>(tenth), means.end(), 0.0) /
                         static_cast<double>(tenth);
    std::size_t last = means.size();
    while (last > 0 && means[last - 1] <= clear_of_noise * noise)
        --last;
    if (last == 0) // it has not fallen at all by its end
        return {};
    const std::size_t end = last * length;

    DecayTimes times;
    double beyond = 0;
    std::optional<double> previous_s;
    for (int round = 0; round < 4; ++round) {
        times.curve_db = schroeder(power, noise, end, beyond);
        times.edt_s = fallTime(times.curve_db, 0, -10, sample_rate_hz);
        times.t30_s = fallTime(times.curve_db, -5, -35, sample_rate_hz, &times.bent_permille);
        if (!times.t30_s || (previous_s && std::abs(*times.t30_s / *previous_s - 1) < settled_within))
            break;
        previous_s = times.t30_s;
        beyond = std::max(0.0, means[last - 1] - noise) * sample_rate_hz * *times.t30_s / std::log(1e6);
    }
    return times;
}

Octaves::Octaves(std::span<const double> response, double sample_rate_hz)
    : m_frames(response.size()),
      m_padded_frames(signal::fastSize(response.size() + static_cast<std::size_t>(sample_rate_hz / 4))),
      m_bin_hz(sample_rate_hz / static_cast<double>(m_padded_frames))
{
    std::vector<double> padded(m_padded_frames);
    std::ranges::copy(response, padded.begin());
    m_bins = signal::forwardTransform(padded);
}

std::vector<double> Octaves::around(double centre_hz) const
{
    // Flat over two thirds of the octave, cosines at both sides: half the power at the edges.
    constexpr double flat = 1.0 / 3;
    constexpr double zero = 2.0 / 3;
    std::vector<std::complex<double>> bins(m_bins.size());
    const auto first = static_cast<std::size_t>(centre_hz * std::exp2(-zero) / m_bin_hz) + 1;
    const auto last = static_cast<std::size_t>(centre_hz * std::exp2(zero) / m_bin_hz);
    for (std::size_t k = first; k <= last && k < bins.size(); ++k) {
        const double away = std::abs(std::log2(static_cast<double>(k) * m_bin_hz / centre_hz));
        const double part = std::clamp((away - flat) / (zero - flat), 0.0, 1.0);
        bins[k] = m_bins[k] * std::cos(std::numbers::pi / 2 * part);
    }
    auto band = signal::inverseTransform(std::move(bins), m_padded_frames);
    band.resize(m_frames);
    return band;
}

std::optional<double> denseAfterS(std::span<const double> response, double sample_rate_hz)
{
    const auto window = static_cast<std::size_t>(density_window_s * sample_rate_hz);
    const std::size_t step = std::max<std::size_t>(1, window / 40);
    for (std::size_t at = 0; at + window <= response.size(); at += step) {
        const auto part = response.subspan(at, window);
        const double deviation = std::sqrt(signal::meanSquare(part));
        const auto beyond = std::ranges::count_if(part, [&](double s) { return std::abs(s) > deviation; });
        if (static_cast<double>(beyond) >= gaussian_share * static_cast<double>(window))
            return (static_cast<double>(at) + static_cast<double>(window) / 2) / sample_rate_hz;
    }
    return std::nullopt;
}

} // namespace hr::bench

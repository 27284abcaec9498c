// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/spectrum.h"

#include "signal/levels.h"
#include "signal/transform.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace hr::bench {

namespace {

constexpr double skirt_s = 0.1;
constexpr double padded_s = 30;
/// Of a finer one the bins are the inverse of this apart.
constexpr double fine_s = 1000;
/// A peak or a notch between bins goes no further beyond them, as power.
constexpr double most_beyond = 4;
/// A fall is read off two stretches of this length.
constexpr double fall_s = 3;
/// What rings is the same in both but for its fall: so much of it,
constexpr double surely_one = 0.9;
/// and falls within a stretch to less than this.
constexpr double surely_falls = 0.99;

/// On a straight line between the values at the bins on either side.
template<class AtBin>
double between(std::size_t bins, double position, const AtBin& at)
{
    const auto k = std::min(static_cast<std::size_t>(position), bins - 2);
    const double part = position - static_cast<double>(k);
    return at(k) * (1 - part) + at(k + 1) * part;
}

/// As a resonance or a notch goes from bin to bin: a parabola through the three nearest powers; through their
/// inverses around a peak.
double resonatesDb(const std::vector<std::complex<double>>& bins, double position)
{
    const auto k = std::clamp<std::size_t>(static_cast<std::size_t>(std::lround(position)), 1, bins.size() - 2);
    const double x = position - static_cast<double>(k);
    std::array power{std::norm(bins[k - 1]) + 1e-30, std::norm(bins[k]) + 1e-30,
                     std::norm(bins[k + 1]) + 1e-30};
    const bool is_peak = power[1] * power[1] > power[0] * power[2];
    if (is_peak)
        for (double& one : power)
            one = 1 / one;
    const double slope = (power[2] - power[0]) / 2;
    const double bend = (power[2] + power[0]) / 2 - power[1];
    const double value = std::max(power[1] + x * (slope + x * bend), std::ranges::min(power) / most_beyond);
    return (is_peak ? -1 : 1) * signal::powerToDb(value);
}

} // namespace

std::vector<double> linearPart(const std::vector<double>& response, std::size_t frames, double sample_rate_hz)
{
    const auto skirt = static_cast<std::size_t>(skirt_s * sample_rate_hz);
    const auto padded = static_cast<std::size_t>(padded_s * sample_rate_hz);
    std::vector<double> kept(signal::fastSize(std::max(padded, frames + skirt)));
    std::copy_n(response.begin(), frames, kept.begin());
    for (std::size_t i = 1; i <= skirt; ++i) {
        const double near = 1 - static_cast<double>(i) / static_cast<double>(skirt + 1);
        kept[kept.size() - i] = response[response.size() - i] * (0.5 - 0.5 * std::cos(std::numbers::pi * near));
    }
    return kept;
}

Spectrum::Spectrum(const std::vector<double>& impulse_response, double sample_rate_hz)
    : m_bins(signal::forwardTransform(impulse_response)),
      m_bin_hz(sample_rate_hz / static_cast<double>(impulse_response.size()))
{
}

Spectrum Spectrum::mean(const Spectrum& one, const Spectrum& other)
{
    Spectrum both = one;
    std::ranges::transform(one.m_bins, other.m_bins, both.m_bins.begin(),
                           [](const auto& a, const auto& b) { return 0.5 * (a + b); });
    return both;
}

void Spectrum::refine(double to_hz, double cut_off_s)
{
    constexpr double fades_over = 1.25; // above, so gently that little of it spreads over time
    constexpr double spreads_s = 0.05;
    const double seconds = 1 / m_bin_hz;
    const std::size_t size =
        std::min(signal::fastSize(static_cast<std::size_t>(2 * fades_over * to_hz * seconds)) / 2 * 2,
                 2 * (m_bins.size() - 1));
    Bins low(m_bins.begin(), m_bins.begin() + static_cast<std::ptrdiff_t>(size / 2 + 1));
    for (std::size_t k = 0; k < low.size(); ++k) {
        const double part =
            std::clamp((static_cast<double>(k) * m_bin_hz / to_hz - 1) / (fades_over - 1), 0.0, 1.0);
        low[k] *= 0.5 + 0.5 * std::cos(std::numbers::pi * part);
    }
    const auto response = signal::inverseTransform(std::move(low), size); // at a rate that is as low
    const double rate_hz = static_cast<double>(size) / seconds;
    const auto frames = [&](double s) { return static_cast<std::size_t>(s * rate_hz); };
    const std::size_t negative = std::min(size / 2, frames(skirt_s + spreads_s));
    const bool cut_off = cut_off_s > 2 * fall_s;
    const std::size_t end = cut_off ? frames(cut_off_s - spreads_s) : size - negative;
    const std::size_t times_finer = signal::fastSize(static_cast<std::size_t>(std::ceil(fine_s / seconds)));
    const std::size_t padded_frames = times_finer * size;
    {
        std::vector<double> padded(padded_frames);
        std::copy_n(response.begin(), end, padded.begin());
        std::copy(response.end() - static_cast<std::ptrdiff_t>(negative), response.end(),
                  padded.end() - static_cast<std::ptrdiff_t>(negative));
        m_fine = signal::forwardTransform(padded);
    }
    m_fine_bin_hz = m_bin_hz / static_cast<double>(times_finer);
    m_fine_to_hz = to_hz;
    if (cut_off)
        addWhatIsCutOff({response, signal::quadrature(response)}, frames(fall_s), end, padded_frames);
}

/// What rings falls by the same factor from one stretch to the next, at each frequency: so the rest is the sum
/// of a geometric series. That holds for what turns one way; a real response turns both ways, and at low
/// frequencies each is seen in the bins of the other. So they are taken apart, and summed each.
void Spectrum::addWhatIsCutOff(const Analytic& response, std::size_t stretch, std::size_t end,
                               std::size_t padded)
{
    const auto stretchUpTo = [&](const std::vector<double>& part, std::size_t last) {
        std::vector<double> alone(padded);
        std::copy_n(part.begin() + static_cast<std::ptrdiff_t>(last - stretch), stretch,
                    alone.begin() + static_cast<std::ptrdiff_t>(last - stretch));
        return signal::forwardTransform(alone);
    };
    const Bins before = stretchUpTo(response.real, end - stretch);
    const Bins before_aside = stretchUpTo(response.imaginary, end - stretch);
    const Bins last = stretchUpTo(response.real, end);
    const Bins last_aside = stretchUpTo(response.imaginary, end);
    for (const std::complex<double> way : {std::complex<double>(0, 0.5), {0, -0.5}}) {
        const auto one = [way](const Bins& bins, const Bins& aside) {
            Bins turns = bins;
            for (std::size_t k = 0; k < turns.size(); ++k)
                turns[k] = 0.5 * bins[k] + way * aside[k];
            return turns;
        };
        addRest(one(before, before_aside), one(last, last_aside), stretch, padded);
    }
}

/// Of what turns one way; `before` and `last` are its last two stretches.
void Spectrum::addRest(const Bins& before, const Bins& last, std::size_t stretch, std::size_t padded)
{
    // As one mode of what rings falls everywhere around itself, but for the turn of a stretch's length.
    const auto turn = [&](std::size_t k) {
        return std::polar(1.0, 2 * std::numbers::pi * static_cast<double>(k * stretch % padded) /
                                   static_cast<double>(padded));
    };
    struct Sums { // over all bins before
        std::complex<double> common;
        double before = 0, last = 0;
    };
    std::vector<Sums> sums(last.size() + 1);
    for (std::size_t k = 0; k < last.size(); ++k)
        sums[k + 1] = {sums[k].common + last[k] * turn(k) * std::conj(before[k]),
                       sums[k].before + std::norm(before[k]), sums[k].last + std::norm(last[k])};
    const std::size_t reach = padded / stretch; // to the first zero of a stretch's own spectrum
    for (std::size_t k = 0; k < m_fine.size(); ++k) {
        const Sums& from = sums[k - std::min(k, reach)];
        const Sums& to = sums[std::min(k + reach + 1, last.size())];
        const auto common = to.common - from.common;
        const double power = to.before - from.before + 1e-30;
        const auto falls_by = common / power;
        const bool rings = std::norm(common) > surely_one * power * (to.last - from.last);
        if (rings && std::abs(falls_by) < surely_falls) {
            const auto next = falls_by * std::conj(turn(k));
            m_fine[k] += last[k] * next / (1.0 - next);
        }
    }
}

double Spectrum::magnitudeDb(double frequency_hz) const
{
    if (frequency_hz < m_fine_to_hz)
        return resonatesDb(m_fine, frequency_hz / m_fine_bin_hz);
    return between(m_bins.size(), frequency_hz / m_bin_hz,
                   [&](std::size_t k) { return signal::powerToDb(std::norm(m_bins[k]) + 1e-30); });
}

double Spectrum::differenceAt(double frequency_hz, const Spectrum& other) const
{
    // Wide enough that what lies at another time cannot be in step all over it.
    return differenceWithin(std::max(0.01 * frequency_hz, 1.3), frequency_hz, other);
}

double Spectrum::lineDifferenceAt(double frequency_hz, const Spectrum& other) const
{
    constexpr double line_hz = 0.1; // of a record of ten seconds
    return differenceWithin(line_hz, frequency_hz, other);
}

double Spectrum::differenceWithin(double reach_hz, double frequency_hz, const Spectrum& other) const
{
    const auto reach = static_cast<std::size_t>(reach_hz / m_bin_hz);
    const auto bin = static_cast<std::size_t>(std::lround(frequency_hz / m_bin_hz));
    const std::size_t first = bin - std::min(bin, reach);
    const std::size_t last = std::min({bin + reach, m_bins.size() - 1, other.m_bins.size() - 1});
    double sum = 0;
    for (std::size_t k = first; k <= last; ++k)
        sum += std::norm(m_bins[k] - other.m_bins[k]);
    return std::sqrt(sum / static_cast<double>(last - first + 1));
}

std::vector<double> Spectrum::unwrappedPhase(const std::vector<double>& grid, double delay_samples,
                                             double sample_rate_hz) const
{
    std::vector<double> phase(m_bins.size());
    double turns = 0;
    for (std::size_t k = 0; k < m_bins.size(); ++k) {
        const double delay =
            2 * std::numbers::pi * static_cast<double>(k) * m_bin_hz / sample_rate_hz * delay_samples;
        phase[k] = std::arg(m_bins[k] * std::polar(1.0, delay)) + turns;
        while (k > 0 && phase[k] - phase[k - 1] > std::numbers::pi) {
            phase[k] -= 2 * std::numbers::pi;
            turns -= 2 * std::numbers::pi;
        }
        while (k > 0 && phase[k] - phase[k - 1] < -std::numbers::pi) {
            phase[k] += 2 * std::numbers::pi;
            turns += 2 * std::numbers::pi;
        }
    }
    std::vector<double> degrees;
    for (const double f : grid)
        degrees.push_back(between(phase.size(), f / m_bin_hz, [&](std::size_t k) { return phase[k]; }) * 180 /
                          std::numbers::pi);
    return degrees;
}

} // namespace hr::bench

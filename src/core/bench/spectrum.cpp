// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/spectrum.h"

#include "signal/levels.h"
#include "signal/transform.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace hr::bench {

namespace {

constexpr double skirt_s = 0.1;
constexpr double padded_s = 30;

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

double Spectrum::magnitudeDb(double frequency_hz) const
{
    return between(frequency_hz,
                   [this](std::size_t k) { return signal::powerToDb(std::norm(m_bins[k]) + 1e-30); });
}

double Spectrum::differenceAt(double frequency_hz, const Spectrum& other) const
{
    // Wide enough that what lies at another time cannot be in step all over it.
    const double reach_hz = std::clamp(0.01 * frequency_hz, 1.3, 16.0);
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
        degrees.push_back(between(f, [&](std::size_t k) { return phase[k]; }) * 180 / std::numbers::pi);
    return degrees;
}

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/live/live_spectrum.h"

#include "signal/levels.h"
#include "signal/transform.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace hr::audition {

namespace {

constexpr double window_s = 0.085;
constexpr double bottom_dbfs = -110; // nothing to compare
constexpr double lowest_hz = 20, highest_hz = 20000;
constexpr int bands_an_octave = 12;
constexpr double lobe_bins = 2; // half of what a Hann window makes of a tone

} // namespace

LiveSpectrum::LiveSpectrum(double sample_rate_hz)
    : m_window(signal::fastSize(static_cast<std::size_t>(window_s * sample_rate_hz)))
{
    const std::size_t size = m_window.size();
    m_bin_hz = sample_rate_hz / static_cast<double>(size);
    for (std::size_t i = 0; i < size; ++i)
        m_window[i] =
            0.5 - 0.5 * std::cos(2 * std::numbers::pi * static_cast<double>(i) / static_cast<double>(size));
    m_left.resize(size);
    m_right.resize(size);
    const double half_band = std::exp2(0.5 / bands_an_octave);
    const double last_hz = std::min(highest_hz, 0.49 * sample_rate_hz);
    for (int band = 0;; ++band) {
        const double centre_hz = lowest_hz * std::exp2(static_cast<double>(band) / bands_an_octave);
        if (centre_hz > last_hz)
            break;
        // Where a band is narrower than the lobe of a tone, the lobe is taken, so that the tone reads its
        // level.
        const double centre = centre_hz / m_bin_hz;
        const double low = std::min(centre / half_band, centre - lobe_bins);
        const double high = std::max(centre * half_band, centre + lobe_bins);
        const auto first = static_cast<std::size_t>(std::max(1.0, std::ceil(low)));
        const auto last = std::min(static_cast<std::size_t>(std::floor(high)), size / 2);
        m_frequencies_hz.push_back(centre_hz);
        m_bins.emplace_back(first, std::max(first, last) + 1);
    }
}

void LiveSpectrum::clear()
{
    m_filled = m_fresh = 0;
    m_average.clear();
    m_levels_dbfs.clear();
    m_peaks_dbfs.clear();
}

void LiveSpectrum::add(const TapBlock& block)
{
    for (std::size_t i = 0; i < block.frames; ++i) {
        m_left[m_at] = static_cast<double>(block.left[i]);
        m_right[m_at] = static_cast<double>(block.right[i]);
        m_at = (m_at + 1) % m_left.size();
    }
    m_filled = std::min(m_filled + block.frames, m_left.size());
    m_fresh += block.frames;
}

std::vector<double> LiveSpectrum::powers(std::span<const double> ring) const
{
    const std::size_t size = ring.size();
    std::vector<double> windowed(size);
    double squares = 0;
    for (std::size_t i = 0; i < size; ++i) {
        windowed[i] = m_window[i] * ring[(m_at + i) % size];
        squares += m_window[i] * m_window[i];
    }
    const auto bins = signal::forwardTransform(windowed);
    // The bins of a sine of amplitude a sum to a^2 / 4 times size times the window's squares.
    const double scale = 4 / (static_cast<double>(size) * squares);
    std::vector<double> bands;
    for (const auto& [first, end] : m_bins) {
        double sum = 0;
        for (std::size_t k = first; k < end; ++k)
            sum += std::norm(bins[k]);
        bands.push_back(scale * sum);
    }
    return bands;
}

void LiveSpectrum::update()
{
    if (m_filled < m_left.size() || m_fresh == 0)
        return;
    const auto left = powers(m_left);
    const auto right = powers(m_right);
    const double fresh_s = static_cast<double>(m_fresh) / (m_bin_hz * static_cast<double>(m_left.size()));
    const double kept = m_average.empty() ? 0 : std::exp(-fresh_s / m_averaged_s);
    m_fresh = 0;
    m_average.resize(left.size());
    m_levels_dbfs.resize(left.size());
    m_peaks_dbfs.resize(left.size(), signal::no_level_db);
    for (std::size_t band = 0; band < left.size(); ++band) {
        m_average[band] = kept * m_average[band] + (1 - kept) * (left[band] + right[band]) / 2;
        m_levels_dbfs[band] = signal::powerToDb(m_average[band]);
        m_peaks_dbfs[band] = std::max(m_peaks_dbfs[band], m_levels_dbfs[band]);
    }
}

std::vector<std::optional<double>> differenceDb(const LiveSpectrum& in, const LiveSpectrum& out)
{
    std::vector<std::optional<double>> differences;
    const auto& before = in.levelsDbfs();
    const auto& after = out.levelsDbfs();
    for (std::size_t i = 0; i < std::min(before.size(), after.size()); ++i)
        differences.push_back(before[i] > bottom_dbfs && after[i] > bottom_dbfs
                                  ? std::optional(after[i] - before[i])
                                  : std::nullopt);
    return differences;
}

} // namespace hr::audition

// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/live/live_levels.h"

#include "signal/levels.h"

#include <algorithm>
#include <cmath>

namespace hr::audition {

namespace {

constexpr std::size_t pictured = 4; // every so many frames
constexpr double silent_dbfs = -120;

} // namespace

LiveLevels::LiveLevels(double sample_rate_hz)
    : m_meter(sample_rate_hz, signal::Figures::Live),
      m_window_frames(static_cast<std::size_t>(window_s * sample_rate_hz))
{
}

void LiveLevels::add(const TapBlock& block)
{
    m_meter.add(block.left.data(), block.right.data(), block.frames);
    Sums sums;
    sums.frames = block.frames;
    for (std::size_t i = 0; i < block.frames; ++i) {
        const auto left = static_cast<double>(block.left[i]);
        const auto right = static_cast<double>(block.right[i]);
        sums.left += left * left;
        sums.right += right * right;
        sums.product += left * right;
        sums.peak = std::max({sums.peak, std::abs(block.left[i]), std::abs(block.right[i])});
        if (i % pictured == 0)
            m_picture.emplace_back(block.left[i], block.right[i]);
    }
    m_sums.push_back(sums);
    m_in_window += block.frames;
    while (m_in_window > m_window_frames && m_sums.size() > 1) {
        m_in_window -= m_sums.front().frames;
        m_sums.pop_front();
    }
    while (m_picture.size() > m_window_frames / pictured)
        m_picture.pop_front();
}

LiveLevels::Figures LiveLevels::read() const
{
    const signal::Loudness loudness = m_meter.read();
    Figures figures;
    figures.momentary_lufs = m_meter.meter().momentaryLufs();
    figures.short_term_lufs = m_meter.meter().shortTermLufs();
    figures.integrated_lufs = loudness.integrated_lufs;
    figures.range_lu = loudness.range_lu;
    figures.true_peak_dbtp = loudness.true_peak_dbtp;
    Sums all;
    for (const Sums& sums : m_sums) {
        all.left += sums.left;
        all.right += sums.right;
        all.product += sums.product;
        all.peak = std::max(all.peak, sums.peak);
        all.frames += sums.frames;
    }
    const double mean = all.frames > 0 ? (all.left + all.right) / (2 * static_cast<double>(all.frames)) : 0;
    const double rms_dbfs = signal::powerToDb(2 * mean);
    if (rms_dbfs < silent_dbfs)
        return figures;
    const double peak_dbfs = signal::linearToDb(static_cast<double>(all.peak));
    figures.rms_dbfs = rms_dbfs;
    figures.peak_dbfs = peak_dbfs;
    figures.crest_db = peak_dbfs - signal::powerToDb(mean);
    if (std::min(all.left, all.right) > 1e-9 * std::max(all.left, all.right))
        figures.correlation = all.product / std::sqrt(all.left * all.right);
    return figures;
}

} // namespace hr::audition

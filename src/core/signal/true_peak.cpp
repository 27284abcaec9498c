// SPDX-License-Identifier: GPL-3.0-or-later
#include "signal/true_peak.h"

#include <algorithm>
#include <cassert>
#include <cmath>

namespace hr::signal {

namespace {

constexpr double most_rise =
    1.87; // libebur128: 49 Hann-windowed taps, of which the 12 half way between samples sum to 1.864

} // namespace

TruePeakMeter::TruePeakMeter(std::size_t channels, double sample_rate_hz)
    : m_state(ebur128_init(static_cast<unsigned>(channels),
                           static_cast<unsigned long>(std::lround(sample_rate_hz)), EBUR128_MODE_TRUE_PEAK)),
      m_channels(channels)
{
    assert(m_state);
}

void TruePeakMeter::add(const float* interleaved, std::size_t frames)
{
    const std::size_t whole = block_frames * m_channels;
    for (std::size_t left = frames * m_channels; left > 0;) {
        const std::size_t now = std::min(left, whole - m_growing.size());
        m_growing.insert(m_growing.end(), interleaved, interleaved + now);
        interleaved += now;
        left -= now;
        if (m_growing.size() == whole)
            addBlock();
    }
}

void TruePeakMeter::addBlock()
{
    double sample_peak = 0;
    for (const float s : m_growing)
        sample_peak = std::max(sample_peak, std::abs(static_cast<double>(s)));
    const bool active = sample_peak * most_rise > m_peak && sample_peak > 0;
    // Neighbours of an active block are fed too: what lies beyond them is too quiet to leave a trace.
    if (active && !m_last_fed)
        feed(m_last);
    if (active || m_last_active)
        feed(m_growing);
    m_last_fed = active || m_last_active;
    m_last_active = active;
    m_peak = std::max(m_peak, sample_peak);
    std::swap(m_last, m_growing);
    m_growing.clear();
}

void TruePeakMeter::feed(const std::vector<float>& block)
{
    ebur128_add_frames_float(m_state.get(), block.data(), block.size() / m_channels);
    for (unsigned c = 0; c < m_channels; ++c) {
        double peak = 0;
        if (ebur128_true_peak(m_state.get(), c, &peak) == EBUR128_SUCCESS)
            m_peak = std::max(m_peak, peak);
    }
}

} // namespace hr::signal

// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/band_filter.h"

#include <algorithm>
#include <utility>

namespace hr::audition {

BandFilter::BandFilter(const Band& band, double rate_hz)
{
    const auto inside = [rate_hz](double hz) { return hz >= 10 && hz <= 0.49 * rate_hz; };
    for (int section = 0; section < 2; ++section) {
        const double q = signal::butterworthQ(section, 4);
        const auto at = static_cast<std::size_t>(section);
        if (inside(band.low_hz))
            m_sections[at] = signal::highPass(band.low_hz, q, rate_hz);
        if (inside(band.high_hz))
            m_sections[2 + at] = signal::lowPass(band.high_hz, q, rate_hz);
    }
}

void BandFilter::process(float* samples, std::size_t count, std::size_t channel) noexcept
{
    auto& states = m_states[channel];
    for (std::size_t i = 0; i < count; ++i) {
        double sample = samples[i];
        for (std::size_t s = 0; s < m_sections.size(); ++s)
            sample = states[s].next(m_sections[s], sample);
        samples[i] = static_cast<float>(sample);
    }
}

void BandMonitor::process(const std::optional<Band>& wanted, float* left, float* right,
                          std::size_t count) noexcept
{
    if (wanted != m_band && m_left_of_fade == 0.0) {
        m_leaving = std::exchange(m_filter, std::nullopt);
        m_band = wanted;
        if (wanted)
            m_filter.emplace(*wanted, m_rate_hz);
        m_left_of_fade = 1;
    }
    if (!m_filter && m_left_of_fade == 0.0)
        return;
    const double step = 1 / (fade_s * m_rate_hz);
    for (std::size_t first = 0; first < count; first += most_frames) {
        const std::size_t now = std::min(most_frames, count - first);
        for (std::size_t channel = 0; channel < 2; ++channel) {
            float* const samples = (channel == 0 ? left : right) + first;
            std::array<float, most_frames> before;
            std::copy_n(samples, now, before.begin());
            if (m_filter)
                m_filter->process(samples, now, channel);
            if (m_left_of_fade == 0.0)
                continue;
            if (m_leaving)
                m_leaving->process(before.data(), now, channel);
            for (std::size_t i = 0; i < now; ++i) {
                const auto part =
                    static_cast<float>(std::max(0.0, m_left_of_fade - step * static_cast<double>(i)));
                samples[i] += part * (before[i] - samples[i]);
            }
        }
        m_left_of_fade = std::max(0.0, m_left_of_fade - step * static_cast<double>(now));
    }
}

} // namespace hr::audition

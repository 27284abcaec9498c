// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/band_filter.h"

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

} // namespace hr::audition

// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/loop_meter.h"

#include "signal/levels.h"

namespace hr::audition {

std::optional<double> LoopLevels::by(Basis basis) const
{
    switch (basis) {
    case Basis::Loudness:
        return loudness_lufs;
    case Basis::Band:
        return band_lufs;
    case Basis::Rms:
        return rms_dbfs;
    case Basis::Peak:
        return true_peak_dbtp;
    case Basis::None:
        break;
    }
    return std::nullopt;
}

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

LoopMeter::LoopMeter(double rate_hz, const MatchRule& rule)
    : m_meter(rate_hz, signal::Figures::IntegratedAndPeak)
{
    if (rule.basis != Basis::Band)
        return;
    m_filter.emplace(rule.band, rate_hz);
    m_band_meter.emplace(rate_hz, signal::Figures::Integrated);
}

void LoopMeter::add(const float* left, const float* right, std::size_t frames)
{
    m_meter.add(left, right, frames);
    for (std::size_t i = 0; i < frames; ++i)
        m_power += static_cast<double>(left[i]) * static_cast<double>(left[i]) +
                   static_cast<double>(right[i]) * static_cast<double>(right[i]);
    m_frames += frames;
    if (!m_filter)
        return;
    m_left.assign(left, left + frames);
    m_right.assign(right, right + frames);
    m_filter->process(m_left.data(), frames, 0);
    m_filter->process(m_right.data(), frames, 1);
    m_band_meter->add(m_left.data(), m_right.data(), frames);
}

LoopLevels LoopMeter::read() const
{
    const auto reading = m_meter.read();
    LoopLevels levels;
    levels.loudness_lufs = reading.integrated_lufs;
    levels.true_peak_dbtp = reading.true_peak_dbtp;
    if (m_power > 0) // full-scale sines on both sides read 0 dBFS
        levels.rms_dbfs = signal::powerToDb(m_power / static_cast<double>(m_frames));
    if (m_band_meter)
        levels.band_lufs = m_band_meter->read().integrated_lufs;
    return levels;
}

} // namespace hr::audition

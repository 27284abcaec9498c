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

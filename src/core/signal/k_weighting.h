// SPDX-License-Identifier: GPL-3.0-or-later
//
// The K-weighting of ITU-R BS.1770-4, annex 1, as a curve: a shelf of 4 dB for the head and a high pass. Its
// filters are given at 48 kHz; at other rates by the analogue filters behind them (as libebur128 makes them).
#pragma once

#include "signal/biquad.h"

namespace hr::signal {

class KWeighting {
public:
    explicit KWeighting(double sample_rate_hz)
        : m_rate_hz(sample_rate_hz), m_shelf(highShelf(1681.97, 3.99984, 0.70717, sample_rate_hz)),
          m_high_pass(highPass(38.135, 0.50033, sample_rate_hz))
    {
    }

    /// By which the power at a frequency counts; 1.17 (0.69 dB) at 1 kHz.
    double power(double frequency_hz) const
    {
        return std::norm(m_shelf.response(frequency_hz, m_rate_hz) *
                         m_high_pass.response(frequency_hz, m_rate_hz));
    }

private:
    double m_rate_hz;
    Biquad m_shelf, m_high_pass;
};

} // namespace hr::signal

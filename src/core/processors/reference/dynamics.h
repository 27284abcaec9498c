// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "processors/reference/reference_processor.h"
#include "signal/levels.h"
#include "signal/sliding_maximum.h"

#include <algorithm>
#include <cmath>

namespace hr::processors {

/// What compressor and gate share: the level is the peak of both channels over the last hold time (and at
/// least 1 ms, so that it stands still on a sine from 500 Hz up); the gain in dB follows its target by one
/// pole, so that 63.2 % of a change take exactly the time set.
class GainRider : public ReferenceProcessor {
public:
    using ReferenceProcessor::ReferenceProcessor;

    void process(const float* const* in, float* const* out, std::size_t frames) noexcept override
    {
        for (std::size_t i = 0; i < frames; ++i) {
            const double peak = std::max(std::abs(in[0][i]), std::abs(in[1][i]));
            const double target_db = targetDb(signal::linearToDb(std::max(1e-9, m_peak.next(peak))));
            const double pole = target_db < m_gain_db ? m_pole_down : m_pole_up;
            m_gain_db = target_db + pole * (m_gain_db - target_db);
            const double gain = signal::dbToLinear(m_gain_db + m_makeup_db);
            for (std::size_t c = 0; c < channels; ++c)
                out[c][i] = static_cast<float>(in[c][i] * gain);
        }
    }

protected:
    static constexpr double least_hold_ms = 1;

    void reset() override
    {
        m_peak.reset(static_cast<std::size_t>(0.001 * longest_hold_ms * sampleRateHz()) + 1);
        changed();
        m_gain_db = targetDb(-180);
    }
    void setTimes(double down_ms, double up_ms, double hold_ms) noexcept
    {
        m_pole_down = std::exp(-1000 / (down_ms * sampleRateHz()));
        m_pole_up = std::exp(-1000 / (up_ms * sampleRateHz()));
        m_peak.setLength(
            static_cast<std::size_t>(std::lround(0.001 * std::max(least_hold_ms, hold_ms) * sampleRateHz())));
    }
    /// Gain in dB that a steady level in dBFS ends at, without make-up.
    virtual double targetDb(double level_dbfs) const noexcept = 0;

    static constexpr double longest_hold_ms = 1000;
    double m_makeup_db = 0;

private:
    signal::SlidingMaximum m_peak;
    double m_gain_db = 0, m_pole_down = 0, m_pole_up = 0;
};

/// Quadratic knee (D. Giannoulis, M. Massberg, J. Reiss, "Digital dynamic range compressor design",
/// JAES 60, 2012, eq. 4), feed-forward.
class Compressor : public GainRider {
public:
    Compressor()
        : GainRider("compressor", "Compressor", "compressor",
                    {linear("threshold_db", "Threshold", "dB", -60, 0, -24),
                     logarithmic("ratio", "Ratio", ":1", 1, 100, 4), linear("knee_db", "Knee", "dB", 0, 24, 6),
                     logarithmic("attack_ms", "Attack", "ms", 0.1, 500, 10),
                     linear("hold_ms", "Hold", "ms", 0, longest_hold_ms, 0),
                     logarithmic("release_ms", "Release", "ms", 1, 5000, 100),
                     linear("makeup_db", "Make-up", "dB", -24, 24, 0)})
    {
    }

private:
    void changed() noexcept override
    {
        setTimes(value(3), value(5), value(4));
        m_makeup_db = value(6);
    }
    double targetDb(double level_dbfs) const noexcept override
    {
        const double over_db = level_dbfs - value(0);
        const double slope = 1 / value(1) - 1;
        const double knee_db = value(2);
        if (2 * over_db <= -knee_db)
            return 0;
        if (2 * over_db < knee_db)
            return slope * (over_db + knee_db / 2) * (over_db + knee_db / 2) / (2 * knee_db);
        return slope * over_db;
    }
};

/// Open above the threshold, down by its range below; no hysteresis.
class Gate : public GainRider {
public:
    Gate()
        : GainRider("gate", "Gate", "gate",
                    {linear("threshold_db", "Threshold", "dB", -80, 0, -40),
                     linear("range_db", "Range", "dB", 0, 90, 60),
                     logarithmic("attack_ms", "Attack", "ms", 0.1, 500, 1),
                     linear("hold_ms", "Hold", "ms", 0, longest_hold_ms, 20),
                     logarithmic("release_ms", "Release", "ms", 1, 5000, 100)})
    {
    }

private:
    void changed() noexcept override { setTimes(value(4), value(2), value(3)); }
    double targetDb(double level_dbfs) const noexcept override
    {
        return level_dbfs >= value(0) ? 0 : -value(1);
    }
};

} // namespace hr::processors

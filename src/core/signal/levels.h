// SPDX-License-Identifier: GPL-3.0-or-later
//
// Levels by AES17: a full-scale sine reads 0 dBFS, by peak as by RMS.
#pragma once

#include <cmath>
#include <limits>
#include <span>

namespace hr::signal {

/// Power of silence: what levels return when there is nothing to take the logarithm of.
inline constexpr double no_level_db = -std::numeric_limits<double>::infinity();

inline double dbToLinear(double level_db)
{
    return std::pow(10.0, level_db / 20.0);
}
inline double linearToDb(double amplitude)
{
    return amplitude > 0 ? 20.0 * std::log10(amplitude) : no_level_db;
}
inline double dbToPower(double level_db)
{
    return std::pow(10.0, level_db / 10.0);
}
inline double powerToDb(double power)
{
    return power > 0 ? 10.0 * std::log10(power) : no_level_db;
}

template<class Sample>
double meanSquare(std::span<const Sample> samples)
{
    double sum = 0;
    for (const Sample s : samples)
        sum += static_cast<double>(s) * static_cast<double>(s);
    return samples.empty() ? 0.0 : sum / static_cast<double>(samples.size());
}

/// AES17: 20 log10(RMS) + 3.01 dB; -infinity for silence.
template<class Sample>
double rmsDbfs(std::span<const Sample> samples)
{
    return powerToDb(2.0 * meanSquare(samples));
}

/// 20 log10 of the largest magnitude; -infinity for silence.
template<class Sample>
double peakDbfs(std::span<const Sample> samples)
{
    double peak = 0;
    for (const Sample s : samples)
        peak = std::max(peak, std::abs(static_cast<double>(s)));
    return linearToDb(peak);
}

} // namespace hr::signal

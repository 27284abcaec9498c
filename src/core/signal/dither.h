// SPDX-License-Identifier: GPL-3.0-or-later
//
// From floating point to whole numbers of fewer bits, with triangular dither of two steps from peak to peak (S.
// Lipshitz, R. Wannamaker, J. Vanderkooy, JAES 40, 1992): what is rounded off is noise that does not follow the
// sound. Seeded, so that it repeats.
#pragma once

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <random>

namespace hr::signal {

/// Of one channel.
class Dither {
public:
    Dither(unsigned bits, std::uint64_t seed)
        : m_step(std::ldexp(1.0, 1 - static_cast<int>(bits))), m_engine(seed)
    {
    }

    /// In the upper bits of 32; what is louder than full scale is cut and counted.
    std::int32_t next(double sample)
    {
        const double most = 1 / m_step - 1;
        const double steps = std::nearbyint(sample / m_step + uniform() + uniform() - 1);
        const double kept = std::clamp(steps, -1 / m_step, most);
        m_clipped += std::abs(sample) > 1 ? 1 : 0;
        return static_cast<std::int32_t>(kept * m_step * 0x1p31);
    }
    std::size_t clipped() const { return m_clipped; }

private:
    double uniform() { return static_cast<double>(m_engine() >> 11) * 0x1p-53; }

    double m_step; // of full scale 1
    std::mt19937_64 m_engine;
    std::size_t m_clipped = 0;
};

} // namespace hr::signal

// SPDX-License-Identifier: GPL-3.0-or-later
//
// A tone as one complex number turning: sine and cosine of every sample for one multiplication, which is what
// most of making and reading test tones costs otherwise.
#pragma once

#include <cmath>
#include <complex>
#include <cstddef>
#include <numbers>

namespace hr::signal {

class Phasor {
public:
    /// exp(2 pi i c n) for n = first, first + 1, …; c in cycles a sample.
    explicit Phasor(double cycles_a_sample, std::size_t first = 0)
        : m_cycles(cycles_a_sample), m_frame(first - first % anew_after), m_turn(at(cycles_a_sample))
    {
        while (m_frame < first) // so that stretches of a tone join to the last digit
            next();
    }

    /// Within 3e-14: it is taken anew every anew_after samples, from a phase that is wrapped in cycles before
    /// it meets sin(), so that hours of tone stay exact.
    std::complex<double> next() noexcept
    {
        if (m_left == 0) {
            m_now = at(m_cycles * static_cast<double>(m_frame));
            m_left = anew_after;
        }
        const std::complex<double> now = m_now;
        // Written out: the library's product looks for infinities.
        m_now = {now.real() * m_turn.real() - now.imag() * m_turn.imag(),
                 now.real() * m_turn.imag() + now.imag() * m_turn.real()};
        --m_left;
        ++m_frame;
        return now;
    }

private:
    static constexpr std::size_t anew_after = 128;

    static std::complex<double> at(double cycles)
    {
        return std::polar(1.0, 2 * std::numbers::pi * (cycles - std::floor(cycles)));
    }

    double m_cycles;
    std::size_t m_frame;
    std::complex<double> m_turn, m_now;
    std::size_t m_left = 0;
};

} // namespace hr::signal

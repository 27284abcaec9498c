// SPDX-License-Identifier: GPL-3.0-or-later
#include "signal/biquad.h"

#include <cassert>
#include <cmath>
#include <numbers>

namespace hr::signal {

namespace {

using std::numbers::pi;

struct Warped {
    double cosine, alpha; // cos(w0) and sin(w0) / 2Q of the cookbook
};

Warped warp(double frequency_hz, double q, double sample_rate_hz)
{
    assert(0 < frequency_hz && frequency_hz < sample_rate_hz / 2 && q > 0);
    const double w0 = 2.0 * pi * frequency_hz / sample_rate_hz;
    return {std::cos(w0), std::sin(w0) / (2.0 * q)};
}

Biquad normalised(double b0, double b1, double b2, double a0, double a1, double a2)
{
    return {b0 / a0, b1 / a0, b2 / a0, a1 / a0, a2 / a0};
}

} // namespace

std::complex<double> Biquad::response(double frequency_hz, double sample_rate_hz) const
{
    const auto z1 = std::polar(1.0, -2.0 * pi * frequency_hz / sample_rate_hz);
    const auto z2 = z1 * z1;
    return (b0 + b1 * z1 + b2 * z2) / (1.0 + a1 * z1 + a2 * z2);
}

Biquad peaking(double frequency_hz, double gain_db, double q, double sample_rate_hz)
{
    const auto [c, alpha] = warp(frequency_hz, q, sample_rate_hz);
    const double a = std::pow(10.0, gain_db / 40.0);
    return normalised(1 + alpha * a, -2 * c, 1 - alpha * a, 1 + alpha / a, -2 * c, 1 - alpha / a);
}

Biquad lowShelf(double frequency_hz, double gain_db, double q, double sample_rate_hz)
{
    const auto [c, alpha] = warp(frequency_hz, q, sample_rate_hz);
    const double a = std::pow(10.0, gain_db / 40.0);
    const double r = 2 * std::sqrt(a) * alpha;
    return normalised(a * (a + 1 - (a - 1) * c + r), 2 * a * (a - 1 - (a + 1) * c),
                      a * (a + 1 - (a - 1) * c - r), a + 1 + (a - 1) * c + r, -2 * (a - 1 + (a + 1) * c),
                      a + 1 + (a - 1) * c - r);
}

Biquad highShelf(double frequency_hz, double gain_db, double q, double sample_rate_hz)
{
    const auto [c, alpha] = warp(frequency_hz, q, sample_rate_hz);
    const double a = std::pow(10.0, gain_db / 40.0);
    const double r = 2 * std::sqrt(a) * alpha;
    return normalised(a * (a + 1 + (a - 1) * c + r), -2 * a * (a - 1 + (a + 1) * c),
                      a * (a + 1 + (a - 1) * c - r), a + 1 - (a - 1) * c + r, 2 * (a - 1 - (a + 1) * c),
                      a + 1 - (a - 1) * c - r);
}

Biquad lowPass(double frequency_hz, double q, double sample_rate_hz)
{
    const auto [c, alpha] = warp(frequency_hz, q, sample_rate_hz);
    return normalised((1 - c) / 2, 1 - c, (1 - c) / 2, 1 + alpha, -2 * c, 1 - alpha);
}

Biquad allPass(double frequency_hz, double q, double sample_rate_hz)
{
    const auto [c, alpha] = warp(frequency_hz, q, sample_rate_hz);
    return normalised(1 - alpha, -2 * c, 1 + alpha, 1 + alpha, -2 * c, 1 - alpha);
}

Biquad highPass(double frequency_hz, double q, double sample_rate_hz)
{
    const auto [c, alpha] = warp(frequency_hz, q, sample_rate_hz);
    return normalised((1 + c) / 2, -(1 + c), (1 + c) / 2, 1 + alpha, -2 * c, 1 - alpha);
}

double butterworthQ(int section, int order)
{
    assert(order >= 2 && order % 2 == 0 && 0 <= section && section < order / 2);
    return 0.5 / std::cos(pi * (2 * section + 1) / (2.0 * order));
}

} // namespace hr::signal

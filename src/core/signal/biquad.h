// SPDX-License-Identifier: GPL-3.0-or-later
//
// Second-order filter sections in double precision, and their exact response at a rate.
// Designs: R. Bristow-Johnson, "Cookbook formulae for audio EQ biquad filter coefficients" (bilinear
// transform with the centre frequency pre-warped); Butterworth sections by the same transform.
#pragma once

#include <complex>

namespace hr::signal {

/// y = b0 x + b1 x' + b2 x'' - a1 y' - a2 y'' (a0 = 1).
struct Biquad {
    double b0 = 1, b1 = 0, b2 = 0, a1 = 0, a2 = 0;

    /// H(e^jw) at `frequency_hz`.
    std::complex<double> response(double frequency_hz, double sample_rate_hz) const;
};

/// Transposed direct form II: two numbers of state a channel.
struct BiquadState {
    double s1 = 0, s2 = 0;
    double next(const Biquad& f, double x) noexcept
    {
        const double y = f.b0 * x + s1;
        s1 = f.b1 * x - f.a1 * y + s2;
        s2 = f.b2 * x - f.a2 * y;
        return y;
    }
};

/// Peaking equaliser; bandwidth by `q` as in the cookbook. 0 < frequency_hz < rate / 2, q > 0.
Biquad peaking(double frequency_hz, double gain_db, double q, double sample_rate_hz);
Biquad lowShelf(double frequency_hz, double gain_db, double q, double sample_rate_hz);
Biquad highShelf(double frequency_hz, double gain_db, double q, double sample_rate_hz);
Biquad lowPass(double frequency_hz, double q, double sample_rate_hz);
Biquad allPass(double frequency_hz, double q, double sample_rate_hz);
Biquad highPass(double frequency_hz, double q, double sample_rate_hz);

/// Q of section `section` (from 0) of a Butterworth filter of even `order`: order / 2 sections of
/// lowPass() or highPass() with these are -3.01 dB at their frequency exactly.
double butterworthQ(int section, int order);

} // namespace hr::signal

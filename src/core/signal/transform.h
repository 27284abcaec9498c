// SPDX-License-Identifier: GPL-3.0-or-later
//
// Discrete Fourier transforms of real signals in double precision, through FFTW.
#pragma once

#include <complex>
#include <cstddef>
#include <mutex>
#include <span>
#include <vector>

namespace hr::signal {

/// FFTW plans are made and destroyed by one thread at a time: whoever does so holds this.
std::mutex& plannerMutex();

/// Spectrum of `samples`: size/2 + 1 bins, unscaled (a sine of amplitude a over whole cycles reads
/// a * size / 2 in its bin). Any size of at least 1.
std::vector<std::complex<double>> forwardTransform(std::span<const double> samples);

/// The inverse, scaled so that inverse(forward(x)) = x; `size` is that of the signal.
std::vector<double> inverseTransform(std::span<const std::complex<double>> bins, std::size_t size);
/// The same of bins that are not needed any more.
std::vector<double> inverseTransform(std::vector<std::complex<double>>&& bins, std::size_t size);

/// Every frequency a quarter of a turn later: what an analytic signal has beside a real one (D. Gabor 1946).
std::vector<double> quadrature(std::span<const double> samples);

/// The next size at least `minimum` that is a product of 2, 3 and 5, where FFTW is fast.
std::size_t fastSize(std::size_t minimum);

/// Linear convolution with the inverse of a stimulus (regularised where it has no energy): the response of
/// which an output is the answer, time 0 first. Its length is fastSize(output + stimulus); negative times
/// (skirts of the band's edges, harmonics of a sweep) stand at its end.
class Deconvolution {
public:
    /// For outputs of at most so many frames.
    Deconvolution(std::span<const double> stimulus, std::size_t output_frames);

    std::vector<double> of(std::span<const double> output) const;
    /// What a wire would have answered.
    std::vector<double> ofTheStimulus() const;

private:
    std::size_t m_size;
    std::vector<std::complex<double>> m_stimulus;
    double m_floor = 0;
};

/// The same of one output.
std::vector<double> deconvolve(std::span<const double> output, std::span<const double> stimulus);

} // namespace hr::signal

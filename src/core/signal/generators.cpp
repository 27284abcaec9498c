// SPDX-License-Identifier: GPL-3.0-or-later
#include "signal/generators.h"

#include "signal/phasor.h"

#include <cmath>
#include <numbers>
#include <random>

namespace hr::signal {

using std::numbers::pi;

std::vector<double> sine(double frequency_hz, double amplitude, double sample_rate_hz, std::size_t frames,
                         std::size_t first_frame)
{
    std::vector<double> samples(frames);
    Phasor tone(frequency_hz / sample_rate_hz, first_frame);
    for (double& sample : samples)
        sample = amplitude * tone.next().imag();
    return samples;
}

std::vector<double> exponentialSweep(double low_hz, double high_hz, double amplitude, double sample_rate_hz,
                                     std::size_t frames)
{
    assert(0 < low_hz && low_hz < high_hz && high_hz < sample_rate_hz / 2);
    // Novak 2015, eq. 49: a whole number of cycles of low_hz in one growth constant. The sweep becomes a
    // little shorter for it, so that it still ends at high_hz; what is left of `frames` is silence.
    const double octaves = std::log(high_hz / low_hz);
    const double longest_s = static_cast<double>(frames) / sample_rate_hz;
    const double cycles = std::floor(low_hz * longest_s / octaves);
    const double growth = cycles > 0 ? cycles / low_hz : longest_s / octaves;
    const auto length = std::min(frames, static_cast<std::size_t>(growth * octaves * sample_rate_hz));
    const std::size_t fade_in = length / 100;
    const std::size_t fade_out = length / 400;
    std::vector<double> samples(frames);
    for (std::size_t i = 0; i < length; ++i) {
        const double t = static_cast<double>(i) / sample_rate_hz;
        samples[i] = amplitude * std::sin(2.0 * pi * low_hz * growth * std::exp(t / growth));
        if (i < fade_in)
            samples[i] *= 0.5 - 0.5 * std::cos(pi * static_cast<double>(i) / static_cast<double>(fade_in));
        if (length - i <= fade_out)
            samples[i] *=
                0.5 - 0.5 * std::cos(pi * static_cast<double>(length - i) / static_cast<double>(fade_out));
    }
    return samples;
}

std::vector<double> gaussianNoise(double rms, std::size_t frames, std::uint64_t seed)
{
    // Box and Muller 1958 on the engine's own bits: std::normal_distribution differs between libraries.
    std::mt19937_64 engine(seed);
    const auto uniform = [&engine] { return (static_cast<double>(engine() >> 11) + 0.5) * 0x1p-53; };
    std::vector<double> samples(frames);
    for (double& sample : samples)
        sample = rms * std::sqrt(-2.0 * std::log(uniform())) * std::cos(2.0 * pi * uniform());
    return samples;
}

AudioBuffer onChannels(const std::vector<double>& samples, std::size_t channels, double sample_rate_hz)
{
    AudioBuffer audio(channels, samples.size(), sample_rate_hz);
    for (std::size_t c = 0; c < channels; ++c)
        for (std::size_t i = 0; i < samples.size(); ++i)
            audio.channel(c)[i] = static_cast<float>(samples[i]);
    return audio;
}

} // namespace hr::signal

// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/programme.h"

#include "signal/generators.h"
#include "signal/phasor.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <complex>
#include <map>
#include <mutex>
#include <numbers>

namespace hr::bench {

namespace {

constexpr double beat_s = 0.5;

/// One blown note with eight partials that open as it gets louder.
void addNote(std::vector<double>& sound, double rate_hz, double start_s, double length_s, double frequency_hz,
             double amplitude)
{
    const auto first = static_cast<std::size_t>(start_s * rate_hz);
    const auto frames = static_cast<std::size_t>(length_s * rate_hz);
    signal::Phasor tremor(5 / rate_hz);
    signal::Phasor tone(frequency_hz / rate_hz);
    for (std::size_t i = 0; i < frames && first + i < sound.size(); ++i) {
        const double t = static_cast<double>(i) / rate_hz;
        const double blown =
            std::min({1.0, t / 0.04, (length_s - t) / 0.08}) * (1 + 0.1 * tremor.next().imag());
        // Each partial is one turn of the first further, and so much softer: powers of one complex number.
        const auto first_partial = std::sqrt(blown) * tone.next();
        auto partial = first_partial;
        double sample = 0;
        for (int k = 1; k <= 8 && k * frequency_hz < 0.4 * rate_hz; ++k, partial *= first_partial)
            sample += partial.imag() / k;
        sound[first + i] += amplitude * sample;
    }
}

/// A drum: a falling tone and a burst of noise.
void addStroke(std::vector<double>& sound, double rate_hz, double start_s, double amplitude, std::uint64_t seed)
{
    const auto first = static_cast<std::size_t>(start_s * rate_hz);
    const auto noise = signal::gaussianNoise(0.3, static_cast<std::size_t>(0.25 * rate_hz), seed);
    for (std::size_t i = 0; i < noise.size() && first + i < sound.size(); ++i) {
        const double t = static_cast<double>(i) / rate_hz;
        const double end = std::min(1.0, (0.25 - t) / 0.02);
        sound[first + i] +=
            amplitude * end *
            (std::exp(-t / 0.07) * std::sin(2 * std::numbers::pi * (70 * t + 2 * (1 - std::exp(-t / 0.02)))) +
             std::exp(-t / 0.03) * noise[i]);
    }
}

std::vector<double> composed(double sample_rate_hz)
{
    std::vector<double> sound(static_cast<std::size_t>(programme_seconds * sample_rate_hz));
    constexpr std::array<std::array<double, 3>, 4> chords{
        {{174.6, 220.0, 261.6}, {164.8, 196.0, 261.6}, {146.8, 220.0, 293.7}, {130.8, 196.0, 329.6}}};
    constexpr int beats = 15; // the last is a rest
    for (int beat = 0; beat < beats; ++beat) {
        const double loudness = beat / 4 == 2 ? 0.25 : 1; // the third bar is soft
        for (const double frequency_hz : chords[static_cast<std::size_t>(beat / 4)])
            addNote(sound, sample_rate_hz, beat * beat_s + 0.02, beat_s * 0.9, frequency_hz, 0.06 * loudness);
        addStroke(sound, sample_rate_hz, beat * beat_s + 0.01, 0.3 * loudness,
                  40 + static_cast<std::uint64_t>(beat));
    }
    return sound;
}

} // namespace

std::vector<double> programme(double sample_rate_hz)
{
    // Many tests ask for it, some a dozen times.
    static std::mutex mutex;
    static std::map<double, std::vector<double>> known;
    const std::lock_guard lock(mutex);
    auto found = known.find(sample_rate_hz);
    if (found == known.end())
        found = known.emplace(sample_rate_hz, composed(sample_rate_hz)).first;
    return found->second;
}

} // namespace hr::bench

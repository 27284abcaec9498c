// SPDX-License-Identifier: GPL-3.0-or-later
#include "loop_canvas.h"

#include "signal/generators.h"
#include "signal/levels.h"
#include "signal/loudness.h"
#include "signal/transform.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace demo {

LoopCanvas::LoopCanvas(double seconds)
    : m_sides(2, std::vector<double>(static_cast<std::size_t>(std::lround(seconds * rate_hz))))
{
}

void LoopCanvas::add(double start_s, double length_s, double pan, double gain,
                     const std::function<double(double)>& sample)
{
    const std::size_t frames = m_sides[0].size();
    const double angle = (pan + 1) * std::numbers::pi / 4;
    const auto first = static_cast<std::size_t>(std::lround(start_s * rate_hz));
    const auto count = static_cast<std::size_t>(length_s * rate_hz);
    for (std::size_t i = 0; i < count; ++i) {
        const double value = gain * sample(static_cast<double>(i) / rate_hz);
        m_sides[0][(first + i) % frames] += value * std::cos(angle);
        m_sides[1][(first + i) % frames] += value * std::sin(angle);
    }
}

void LoopCanvas::addRoom(double rt60_s, double amount, std::uint64_t seed)
{
    for (auto& side : m_sides) {
        auto room = hr::signal::gaussianNoise(1, side.size(), seed++);
        double energy = 0;
        for (std::size_t i = 0; i < room.size(); ++i) {
            const double t = static_cast<double>(i) / rate_hz;
            room[i] *= t < 0.012 ? 0 : std::pow(10.0, -3 * t / rt60_s);
            energy += room[i] * room[i];
        }
        const auto dry = hr::signal::forwardTransform(side);
        auto wet = hr::signal::forwardTransform(room);
        for (std::size_t k = 0; k < wet.size(); ++k) {
            const double hz = static_cast<double>(k) * rate_hz / static_cast<double>(side.size());
            wet[k] *= dry[k] * amount / std::sqrt(energy) / (1 + hz / 5000); // walls take the highs
        }
        const auto answer = hr::signal::inverseTransform(wet, side.size());
        std::ranges::transform(side, answer, side.begin(), std::plus());
    }
}

void LoopCanvas::addNoise(double rms, std::uint64_t seed)
{
    for (auto& side : m_sides) {
        const auto noise = hr::signal::gaussianNoise(rms, side.size(), seed++);
        std::ranges::transform(side, noise, side.begin(), std::plus());
    }
}

hr::signal::AudioBuffer LoopCanvas::finished(double loudness_lufs) const
{
    hr::signal::AudioBuffer audio(2, m_sides[0].size(), rate_hz);
    const auto fill = [&](double gain) {
        for (std::size_t c = 0; c < 2; ++c)
            std::ranges::transform(m_sides[c], audio.channel(c).begin(),
                                   [gain](double s) { return static_cast<float>(s * gain); });
    };
    fill(1);
    const auto loudness = hr::signal::measureLoudness(audio).integrated_lufs;
    fill(hr::signal::dbToLinear(loudness_lufs - loudness.value_or(loudness_lufs)));
    return audio;
}

double blown(double t, double length_s, double attack_s, double release_s)
{
    const double rise = std::min(1.0, t / attack_s);
    const double fall = std::clamp((length_s - t) / release_s, 0.0, 1.0);
    return std::sin(rise * std::numbers::pi / 2) * fall;
}

double pitch(double semitones)
{
    return 440 * std::pow(2.0, semitones / 12);
}

double grain(std::uint64_t position)
{
    // splitmix64 (Steele, Lea, Flood 2014)
    std::uint64_t z = (position + 1) * 0x9e3779b97f4a7c15ULL;
    z = (z ^ (z >> 30)) * 0xbf58476d1ce4e5b9ULL;
    z = (z ^ (z >> 27)) * 0x94d049bb133111ebULL;
    return static_cast<double>((z ^ (z >> 31)) >> 11) * 0x1p-52 - 1.0;
}

} // namespace demo

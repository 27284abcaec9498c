// SPDX-License-Identifier: GPL-3.0-or-later
#include "instruments.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace demo {

using std::numbers::pi;

void brass(LoopCanvas& canvas, double start_s, double length_s, double semitones, double pan, double gain,
           double brightness)
{
    const double f = pitch(semitones);
    canvas.add(start_s, length_s, pan, gain, [=](double t) {
        const double breath = blown(t, length_s, 0.045, 0.07);
        const double vibrato = 0.004 * std::min(1.0, t / 0.5) * std::sin(2 * pi * 5.3 * t) / 5.3;
        double sum = 0;
        for (int n = 1; n <= 24 && n * f < 18000; ++n) {
            const double slope = std::exp(-n * (1.15 - 0.75 * breath) / brightness);
            sum += slope * std::sin(2 * pi * n * f * (t + vibrato));
        }
        return breath * sum;
    });
}

void drum(LoopCanvas& canvas, double start_s, double gain, double pan)
{
    canvas.add(start_s, 0.5, pan, gain, [](double t) {
        const double f = 52 + 60 * std::exp(-t / 0.02);
        return std::exp(-t / 0.13) * std::sin(2 * pi * f * t) +
               0.3 * std::exp(-t / 0.004) * grain(static_cast<std::uint64_t>(t * rate_hz));
    });
}

void snare(LoopCanvas& canvas, double start_s, double gain, double pan)
{
    double last = 0;
    const auto seed = static_cast<std::uint64_t>(start_s * 158000);
    canvas.add(start_s, 0.3, pan, gain, [&last, seed](double t) {
        const double noise = grain(static_cast<std::uint64_t>(t * rate_hz) + seed);
        const double wires = noise - last; // brighter than white
        last = noise;
        return std::exp(-t / 0.075) * (0.6 * wires + 0.5 * std::sin(2 * pi * 187 * t) * std::exp(-t / 0.03));
    });
}

void frameDrum(LoopCanvas& canvas, double start_s, double gain, double slap)
{
    const auto seed = static_cast<std::uint64_t>(start_s * 91000);
    canvas.add(start_s, 0.7, -0.2, gain, [=](double t) {
        constexpr std::array modes{1.0, 1.59, 2.14, 2.65}; // of a round skin
        double sum = 0;
        for (std::size_t k = 0; k < modes.size(); ++k)
            sum += std::sin(2 * pi * 96 * modes[k] * t) * std::exp(-t * (4 + 9 * static_cast<double>(k))) /
                   (1 + static_cast<double>(k));
        return sum + slap * std::exp(-t / 0.012) * grain(static_cast<std::uint64_t>(t * rate_hz) + seed);
    });
}

void plucked(LoopCanvas& canvas, double start_s, double length_s, double semitones, double pan, double gain)
{
    const double period = rate_hz / pitch(semitones);
    std::vector<double> string(static_cast<std::size_t>(period));
    double last = 0;
    for (std::size_t i = 0; i < string.size(); ++i) // a finger is soft
        string[i] = last += 0.12 * (grain(i + static_cast<std::uint64_t>(start_s * 1000)) - last);
    std::size_t at = 0;
    double body = 0;
    double body_last = 0;
    canvas.add(start_s, length_s, pan, gain, [&](double t) {
        const std::size_t next = (at + 1) % string.size();
        const double out = string[at];
        string[at] = 0.5 * (string[at] + string[next]) * 0.9985;
        at = next;
        const double resonance = 1.985 * body - 0.986 * body_last + 0.02 * out; // the air inside, 110 Hz
        body_last = body;
        body = resonance;
        return (3 * out + 0.6 * body) * std::clamp((length_s - t) / 0.03, 0.0, 1.0);
    });
}

void bell(LoopCanvas& canvas, double start_s, double semitones, double pan, double gain)
{
    // Hum, prime, tierce, quint, nominal and above, as bell founders name them.
    constexpr std::array<std::array<double, 3>, 7> partials{{{0.5, 0.5, 4.5},
                                                             {1.0, 1.0, 3.0},
                                                             {1.19, 0.5, 2.2},
                                                             {1.5, 0.25, 1.6},
                                                             {2.0, 0.8, 1.5},
                                                             {2.74, 0.35, 0.7},
                                                             {4.1, 0.2, 0.35}}};
    const double f = pitch(semitones);
    canvas.add(start_s, 6, pan, gain, [=](double t) {
        double sum = 0;
        for (const auto& [ratio, level, seconds] : partials)
            sum += level * std::exp(-t / seconds * 2) * std::sin(2 * pi * ratio * f * t);
        return sum * std::min(1.0, t / 0.001) * std::clamp((6 - t) / 0.5, 0.0, 1.0);
    });
}

void reeds(LoopCanvas& canvas, double start_s, double length_s, double semitones, double pan, double gain)
{
    const double f = pitch(semitones);
    canvas.add(start_s, length_s, pan, gain, [=](double t) {
        const double bellows = blown(t, length_s, 0.06, 0.05);
        double sum = 0;
        for (int n = 1; n <= 16 && n * f < 16000; ++n)
            sum += (std::sin(2 * pi * n * f * t) + std::sin(2 * pi * n * f * 1.0035 * t + n)) / (n * 1.2);
        return bellows * sum;
    });
}

void sung(LoopCanvas& canvas, double start_s, double length_s, double semitones, double vowel, double pan,
          double gain, bool hiss)
{
    const double f = pitch(semitones);
    const auto seed = static_cast<std::uint64_t>((start_s + 3 * pan + 7) * 70000);
    // Between ah and ee the first formant falls and the second rises.
    const std::array formants{750 - 450 * vowel, 1150 + 1050 * vowel, 2700.0, 3300.0};
    double last = 0;
    if (hiss)
        canvas.add(start_s, 0.14, pan, gain * 0.8, [&last, seed](double t) {
            const double noise = grain(seed + static_cast<std::uint64_t>(t * rate_hz));
            const double bright = noise - last;
            last = noise;
            return bright * std::sin(pi * std::min(1.0, t / 0.14));
        });
    const double begin_s = hiss ? 0.11 : 0;
    canvas.add(start_s + begin_s, length_s - begin_s, pan, gain, [=](double t) {
        const double breath = blown(t, length_s - begin_s, 0.12, 0.15);
        const double sway = 0.0045 * std::sin(2 * pi * (5 + pan) * t + 9 * pan) / 5;
        double sum = 0;
        for (int n = 1; n <= 30 && n * f < 9000; ++n) {
            double level = 0.02;
            for (const double formant : formants)
                level += 1 / (1 + std::pow((n * f - formant) / 130, 2));
            sum += level / n * std::sin(2 * pi * n * f * (t + sway) + n * n * pan);
        }
        return breath * sum;
    });
}

} // namespace demo

// SPDX-License-Identifier: GPL-3.0-or-later
#include "loop_canvas.h"
#include "sources.h"

#include <cmath>
#include <numbers>

namespace demo {

namespace {

constexpr double beat_s = 60.0 / 96;
constexpr double loop_s = 16 * beat_s;

/// A brass note: harmonics that come in one after the other as the breath rises, with vibrato late in it.
void brass(LoopCanvas& canvas, double beat, double beats, double semitones, double pan, double gain,
           double brightness)
{
    const double length_s = beats * beat_s;
    const double f = pitch(semitones);
    canvas.add(beat * beat_s, length_s, pan, gain, [=](double t) {
        const double breath = blown(t, length_s, 0.045, 0.07);
        const double vibrato = 0.004 * std::min(1.0, t / 0.5) * std::sin(2 * std::numbers::pi * 5.3 * t) / 5.3;
        double sum = 0;
        for (int n = 1; n <= 24 && n * f < 18000; ++n) {
            const double slope = std::exp(-n * (1.15 - 0.75 * breath) / brightness);
            sum += slope * std::sin(2 * std::numbers::pi * n * f * (t + vibrato));
        }
        return breath * sum;
    });
}

void drum(LoopCanvas& canvas, double beat, double gain)
{
    canvas.add(beat * beat_s, 0.5, 0, gain, [](double t) {
        const double f = 52 + 60 * std::exp(-t / 0.02);
        return std::exp(-t / 0.13) * std::sin(2 * std::numbers::pi * f * t) +
               0.3 * std::exp(-t / 0.004) * grain(static_cast<std::uint64_t>(t * rate_hz));
    });
}

void snare(LoopCanvas& canvas, double beat, double gain)
{
    double last = 0;
    canvas.add(beat * beat_s, 0.3, 0.15, gain, [&last, beat](double t) {
        const double noise =
            grain(static_cast<std::uint64_t>(t * rate_hz) + static_cast<std::uint64_t>(beat * 99991));
        const double wires = noise - last; // brighter than white
        last = noise;
        return std::exp(-t / 0.075) *
               (0.6 * wires + 0.5 * std::sin(2 * std::numbers::pi * 187 * t) * std::exp(-t / 0.03));
    });
}

struct Note {
    double beat, beats, semitones;
};

} // namespace

hr::signal::AudioBuffer brassBand()
{
    LoopCanvas canvas(loop_s);
    // B flat major: I - vi - IV - V, the cornets in thirds above.
    const std::vector<Note> melody{{0, 1.5, 5}, {1.5, 0.5, 3}, {2, 1, 1},   {3, 1, 3},     {4, 2, 5},
                                   {6, 1, 8},   {7, 1, 6},     {8, 1.5, 5}, {9.5, 0.5, 3}, {10, 1, 1},
                                   {11, 1, 6},  {12, 1, 5},    {13, 1, 3},  {14, 1.75, 3}};
    for (const Note& n : melody) {
        brass(canvas, n.beat, n.beats * 0.94, n.semitones, -0.25, 0.085, 5.0);
        brass(canvas, n.beat + 0.012, n.beats * 0.92, n.semitones - 4, 0.3, 0.06, 4.2);
    }
    const double chords[4][3] = {{-11, -7, -4}, {-14, -11, -7}, {-18, -14, -11}, {-16, -12, -9}};
    for (int bar = 0; bar < 4; ++bar)
        for (int voice = 0; voice < 3; ++voice)
            for (const double at : {0.0, 1.5, 2.5})
                brass(canvas, bar * 4 + at, at == 0.0 ? 1.3 : 0.8, chords[bar][voice], -0.5 + 0.5 * voice,
                      0.045, 3.0);
    const double roots[4] = {-35, -38, -30, -28};
    for (int bar = 0; bar < 4; ++bar)
        for (int beat = 0; beat < 4; ++beat)
            brass(canvas, bar * 4 + beat, 0.8, roots[bar] + (beat == 2 ? 7 : 0), 0.1, 0.11, 2.6);
    for (int beat = 0; beat < 16; ++beat) {
        if (beat % 2 == 0)
            drum(canvas, beat, 0.5);
        else
            snare(canvas, beat, 0.28);
        if (beat % 4 == 3)
            for (const double off : {0.25, 0.5, 0.75})
                snare(canvas, beat + off, 0.12);
    }
    canvas.addRoom(1.4, 0.3, 11);
    return canvas.finished(-20);
}

} // namespace demo

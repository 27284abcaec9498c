// SPDX-License-Identifier: GPL-3.0-or-later
#include "instruments.h"
#include "sources.h"

#include <vector>

namespace demo {

namespace {

constexpr double band_beat_s = 60.0 / 96;
constexpr double loop_s = 16 * band_beat_s;

void brassAt(LoopCanvas& canvas, double beat, double beats, double semitones, double pan, double gain,
             double brightness)
{
    brass(canvas, beat * band_beat_s, beats * band_beat_s, semitones, pan, gain, brightness);
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
        brassAt(canvas, n.beat, n.beats * 0.94, n.semitones, -0.25, 0.085, 5.0);
        brassAt(canvas, n.beat + 0.012, n.beats * 0.92, n.semitones - 4, 0.3, 0.06, 4.2);
    }
    const double chords[4][3] = {{-11, -7, -4}, {-14, -11, -7}, {-18, -14, -11}, {-16, -12, -9}};
    for (int bar = 0; bar < 4; ++bar)
        for (int voice = 0; voice < 3; ++voice)
            for (const double at : {0.0, 1.5, 2.5})
                brassAt(canvas, bar * 4 + at, at == 0.0 ? 1.3 : 0.8, chords[bar][voice], -0.5 + 0.5 * voice,
                        0.045, 3.0);
    const double roots[4] = {-35, -38, -30, -28};
    for (int bar = 0; bar < 4; ++bar)
        for (int beat = 0; beat < 4; ++beat)
            brassAt(canvas, bar * 4 + beat, 0.8, roots[bar] + (beat == 2 ? 7 : 0), 0.1, 0.11, 2.6);
    for (int beat = 0; beat < 16; ++beat) {
        if (beat % 2 == 0)
            drum(canvas, beat * band_beat_s, 0.5);
        else
            snare(canvas, beat * band_beat_s, 0.28);
        if (beat % 4 == 3)
            for (const double off : {0.25, 0.5, 0.75})
                snare(canvas, (beat + off) * band_beat_s, 0.12);
    }
    canvas.addRoom(1.4, 0.3, 11);
    return canvas.finished(-20);
}

} // namespace demo

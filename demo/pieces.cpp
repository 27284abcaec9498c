// SPDX-License-Identifier: GPL-3.0-or-later
//
// What is played beside the band: short loops for what an effect does to drums, bass, voices, bells and reeds.
#include "instruments.h"
#include "sources.h"

#include <array>

namespace demo {

hr::signal::AudioBuffer deckDrums()
{
    constexpr double beat_s = 60.0 / 104;
    LoopCanvas canvas(16 * beat_s);
    for (int beat = 0; beat < 16; ++beat) {
        frameDrum(canvas, beat * beat_s, beat % 2 == 0 ? 0.5 : 0.25, beat % 4 == 0 ? 0.2 : 0.5);
        frameDrum(canvas, (beat + 0.66) * beat_s, 0.18, 0.3);
        if (beat % 2 == 1)
            snare(canvas, beat * beat_s, 0.4);
        if (beat % 8 == 7)
            for (const double off : {0.25, 0.5, 0.75})
                snare(canvas, (beat + off) * beat_s, 0.2);
    }
    canvas.addRoom(0.5, 0.2, 31);
    return canvas.finished(-20);
}

hr::signal::AudioBuffer uprightBass()
{
    constexpr double beat_s = 60.0 / 96;
    LoopCanvas canvas(16 * beat_s);
    constexpr std::array notes{-35, -31, -28, -26, -38, -35, -31, -28, -30, -26, -23, -26, -28, -24, -21, -24};
    for (std::size_t beat = 0; beat < notes.size(); ++beat)
        plucked(canvas, static_cast<double>(beat) * beat_s, 1.1 * beat_s, notes[beat], 0,
                beat % 4 == 0 ? 1.0 : 0.8);
    canvas.addRoom(0.4, 0.08, 41);
    return canvas.finished(-22);
}

hr::signal::AudioBuffer harbourChoir()
{
    constexpr double beat_s = 60.0 / 72;
    LoopCanvas canvas(16 * beat_s);
    constexpr std::array<std::array<int, 4>, 4> chords{
        {{-23, -16, -11, -7}, {-26, -14, -11, -7}, {-18, -14, -9, -6}, {-16, -12, -9, -4}}};
    for (std::size_t bar = 0; bar < 4; ++bar)
        for (std::size_t half = 0; half < 2; ++half)
            for (std::size_t voice = 0; voice < 4; ++voice)
                for (const double singer : {-0.2, 0.15})
                    sung(canvas, (4.0 * static_cast<double>(bar) + 2.0 * static_cast<double>(half)) * beat_s,
                         1.95 * beat_s, chords[bar][voice] + 0.06 * singer, half == 0 ? 0.1 : 0.8,
                         -0.6 + 0.4 * static_cast<double>(voice) + singer, 0.1, half == 1);
    canvas.addRoom(2.2, 0.35, 51);
    return canvas.finished(-23);
}

hr::signal::AudioBuffer handBells()
{
    constexpr double beat_s = 60.0 / 80;
    LoopCanvas canvas(16 * beat_s);
    constexpr std::array notes{13, 8, 5, 1, 6, 10, 13, 18};
    for (std::size_t i = 0; i < notes.size(); ++i)
        bell(canvas, 2.0 * static_cast<double>(i) * beat_s, notes[i], i % 2 == 0 ? -0.4 : 0.4, 0.3);
    canvas.addRoom(1.8, 0.15, 61);
    return canvas.finished(-23);
}

hr::signal::AudioBuffer accordion()
{
    constexpr double beat_s = 60.0 / 120;
    LoopCanvas canvas(24 * beat_s);
    constexpr std::array melody{5, 8, 10, 8, 5, 3, 1, 3, 5, 6, 8, 6, 5, 3, 1, -2, 1, 3, 5, 8, 6, 3, 1, 1};
    for (std::size_t i = 0; i < melody.size(); ++i) {
        const double at_s = static_cast<double>(i) * beat_s;
        reeds(canvas, at_s, 0.9 * beat_s, melody[i], 0.3, 0.12);
        const int root = std::array{-23, -18, -16, -23}[i / 6];
        if (i % 3 == 0)
            reeds(canvas, at_s, 0.8 * beat_s, root, -0.3, 0.12);
        else
            for (const int third : {0, 4, 7})
                reeds(canvas, at_s, 0.35 * beat_s, root + 12 + third, -0.3, 0.06);
    }
    canvas.addRoom(0.7, 0.12, 71);
    return canvas.finished(-20);
}

hr::signal::AudioBuffer tubaAndDrum()
{
    constexpr double beat_s = 60.0 / 96;
    LoopCanvas canvas(16 * beat_s);
    constexpr std::array roots{-35, -38, -30, -28};
    for (int beat = 0; beat < 16; ++beat) {
        brass(canvas, beat * beat_s, 0.8 * beat_s,
              roots[static_cast<std::size_t>(beat / 4)] + (beat % 4 == 2 ? 7 : 0), 0.1, 0.14, 2.6);
        if (beat % 2 == 0)
            drum(canvas, beat * beat_s, 0.5);
    }
    canvas.addRoom(1.0, 0.2, 81);
    return canvas.finished(-20);
}

} // namespace demo

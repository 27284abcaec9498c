// SPDX-License-Identifier: GPL-3.0-or-later
//
// The band's instruments, one note or stroke each, painted on a canvas. Times in seconds, pitch in semitones
// above A4, pan -1 to 1, gain linear.
#pragma once

#include "loop_canvas.h"

namespace demo {

/// Blown: harmonics that come in one after the other as the breath rises, with vibrato late in the note.
void brass(LoopCanvas& canvas, double start_s, double length_s, double semitones, double pan, double gain,
           double brightness);
/// Bass drum: a skin that falls in pitch, and the beater.
void drum(LoopCanvas& canvas, double start_s, double gain, double pan = 0);
/// Wires and shell.
void snare(LoopCanvas& canvas, double start_s, double gain, double pan = 0.15);
/// A hand on a frame drum, with a slap in it.
void frameDrum(LoopCanvas& canvas, double start_s, double gain, double slap);
/// A plucked string with a body (K. Karplus, A. Strong, 1983).
void plucked(LoopCanvas& canvas, double start_s, double length_s, double semitones, double pan, double gain);
/// A hand bell: partials of a bell, the hum last to go.
void bell(LoopCanvas& canvas, double start_s, double semitones, double pan, double gain);
/// Free reeds, two a note and slightly apart.
void reeds(LoopCanvas& canvas, double start_s, double length_s, double semitones, double pan, double gain);
/// A voice of a choir on a vowel, 0 (ah) to 1 (ee); `hiss` begins it with an s.
void sung(LoopCanvas& canvas, double start_s, double length_s, double semitones, double vowel, double pan,
          double gain, bool hiss);

} // namespace demo

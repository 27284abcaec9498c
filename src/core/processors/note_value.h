// SPDX-License-Identifier: GPL-3.0-or-later
//
// Times as note values at a tempo.
#pragma once

#include <optional>
#include <string>
#include <vector>

namespace hr::processors {

/// "1/4", "1/8." (dotted) or "1/8t" (triplet) where `time_ms` is within 1 % of one from 1/1 to 1/64; a beat is
/// a quarter. Empty for none of them, and without a tempo.
std::optional<std::string> noteValue(double time_ms, double tempo_bpm);

/// Whether it is meant as one: "1/8", "1/8." (dotted), "1/4t" (triplet), "3/16", "1 bar", "2 bars".
bool isNoteValue(const std::string& text);
/// How long it lasts at this tempo, a bar being four beats; empty where it is none, or there is no tempo.
std::optional<double> noteTimeMs(const std::string& text, double tempo_bpm);
/// The same in the unit of a parameter: ms, s, or Hz (once in that time); empty for other units.
std::optional<double> noteInUnit(const std::string& text, double tempo_bpm, const std::string& unit);

/// So many of a note to the bar: 6/8.
struct Meter {
    unsigned beats = 4, note = 4;
};
/// "4/4": 1 to 64 of a half, quarter, ... 64th; empty where it is none.
std::optional<Meter> meterIn(const std::string& text);

struct NoteTime {
    std::string note; ///< "1/8."
    double ms = 0;
};
/// 1/64 to 1/1, each as a triplet, plain and dotted, then 1, 2 and 4 bars. `tempo_bpm` counts quarter notes
/// whatever the meter, and is positive.
std::vector<NoteTime> noteTimes(double tempo_bpm, const Meter& meter = {});

} // namespace hr::processors

// SPDX-License-Identifier: GPL-3.0-or-later
//
// The fundamental of what passes by, for tuning a resonance to a drum: by the normalised square difference of
// P. McLeod and G. Wyvill, "A smarter way to find pitch", ICMC 2005, both channels together.
#pragma once

#include "audition/tap.h"

#include <optional>
#include <string>
#include <vector>

namespace hr::audition {

struct Pitch {
    double hz = 0;
    double clarity = 0; ///< 0 noise to 1 exactly periodic
};

/// Nearest note of equal temperament, A4 = 440 Hz, and how far from it, -50 to +50 cent.
struct Note {
    std::string name; ///< "A2", "F♯3"
    double cents = 0;
};
std::optional<Note> noteOf(double hz);

class LivePitch {
public:
    static constexpr double lowest_hz = 25, highest_hz = 2000;
    static constexpr double least_clarity = 0.8; ///< below it, there is none

    explicit LivePitch(double sample_rate_hz);
    void add(const TapBlock& block);
    /// Of the last tenth of a second or so; empty for silence and for noise.
    std::optional<Pitch> read() const;

private:
    double m_rate_hz;    // of what is kept
    std::size_t m_every; // one in so many of the device's frames is kept, after averaging
    double m_sum = 0;
    std::size_t m_summed = 0;
    std::vector<double> m_window; // a ring
    std::size_t m_at = 0, m_filled = 0;
};

} // namespace hr::audition

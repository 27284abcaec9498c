// SPDX-License-Identifier: GPL-3.0-or-later
//
// Which stage of a chain adds a harmonic, and which of those behind it brings it up: a saturator adds the
// third, an equaliser that raises the treble raises that third with it.
#pragma once

#include "audition/along_path.h"

namespace hr::audition {

struct HarmonicStep {
    std::string after;     ///< id of the node
    std::size_t order = 2; ///< 2: the second harmonic
    double level_db = 0;   ///< against the fundamental, behind the node
    double rise_db = 0;    ///< by the node; from least_harmonic_db where there was none
    bool adds = true;      ///< else it was there, and rises as the node's response says, or by less than 6 dB
};

/// Of points that follow one another (a chain in series), measured with in-out and response; harmonics that
/// stay below -90 dB are left out, as are rises of less than 1 dB.
std::vector<HarmonicStep> harmonicSteps(const AlongPath& path, double frequency_hz);

} // namespace hr::audition

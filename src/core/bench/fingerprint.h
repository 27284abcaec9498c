// SPDX-License-Identifier: GPL-3.0-or-later
//
// How a processor behaves as one vector, each figure scaled by what a listener can just notice, so that "what
// else behaves like this" is a search for the nearest.
#pragma once

#include "bench/reading.h"

#include <array>
#include <span>
#include <string>
#include <utility>
#include <vector>

namespace hr::bench {

/// A stretch of it that one test fills, or leaves NaN where it was not run.
struct PrintPart {
    std::size_t first, count;
};

/// 31 third-octave bands of the response from 20 Hz (the first from 10) to 20 kHz, as power, against its
/// passband (1 dB); 30 input levels from -58 to 0 dBFS of the in-out curve against its lowest (1 dB); harmonics
/// 2 to 8 (6 dB, floor -120 dB) and distortion (6 dB). Then what some have, 0 where there is none: attack and
/// release (a third of an octave); reverberation and early decay time (a sixth), predelay (5 ms); first echo
/// and repeat (a fifth), feedback (3 dB); rates of movement (a third), its depth in level (1 dB) and pitch (5
/// cents), notches (a third of one); idle noise (6 dB above -130 dBFS); width (1 dB) and what of both outputs
/// is unrelated (a fifteenth).
inline constexpr std::array<PrintPart, 9> fingerprint_parts{
    {{0, 31}, {31, 30}, {61, 8}, {69, 2}, {71, 3}, {74, 3}, {77, 5}, {82, 1}, {83, 2}}};
inline constexpr std::size_t fingerprint_size = fingerprint_parts.back().first + fingerprint_parts.back().count;
using Fingerprint = std::array<float, fingerprint_size>;

Fingerprint fingerprintOf(const std::vector<std::pair<std::string, Reading>>& readings);

/// What `fresh` does not know is taken from `before`.
Fingerprint merged(const Fingerprint& fresh, const Fingerprint& before);

/// Root of the mean over the parts of their mean squared differences: about 1 is just noticeable. Only parts
/// that were measured of both, without those in which neither has anything; infinity where there is none.
float distance(const Fingerprint& a, const Fingerprint& b);

struct Near {
    std::size_t index = 0;
    float distance = 0;
};
/// The `count` nearest to `wanted`, nearest first; those without a common part are left out.
std::vector<Near> nearest(std::span<const Fingerprint> all, const Fingerprint& wanted, std::size_t count);

} // namespace hr::bench

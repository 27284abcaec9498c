// SPDX-License-Identifier: GPL-3.0-or-later
//
// How a processor behaves as one vector, each figure scaled by what a listener can just notice, so that "what
// else behaves like this" is a search for the nearest.
#pragma once

#include "bench/reading.h"

#include <array>
#include <span>

namespace hr::bench {

/// 31 third-octave bands of the response from 20 Hz to 20 kHz against its passband (1 dB), 30 input levels from
/// -58 to 0 dBFS of the in-out curve against its lowest (1 dB), harmonics 2 to 8 (6 dB, floor -120 dB) and
/// distortion (6 dB). NaN where the test was not run.
inline constexpr std::size_t fingerprint_response = 31;
inline constexpr std::size_t fingerprint_in_out = 30;
inline constexpr std::size_t fingerprint_harmonics = 8;
inline constexpr std::size_t fingerprint_size =
    fingerprint_response + fingerprint_in_out + fingerprint_harmonics;
using Fingerprint = std::array<float, fingerprint_size>;

Fingerprint fingerprintOf(const std::vector<std::pair<std::string, Reading>>& readings);

/// What `fresh` does not know is taken from `before`.
Fingerprint merged(const Fingerprint& fresh, const Fingerprint& before);

/// Root of the mean over the three parts of their mean squared differences: about 1 is just noticeable. Only
/// parts that both have; infinity where there is none.
float distance(const Fingerprint& a, const Fingerprint& b);

struct Near {
    std::size_t index = 0;
    float distance = 0;
};
/// The `count` nearest to `wanted`, nearest first; those without a common part are left out.
std::vector<Near> nearest(std::span<const Fingerprint> all, const Fingerprint& wanted, std::size_t count);

} // namespace hr::bench

// SPDX-License-Identifier: GPL-3.0-or-later
//
// Whether samples are numbers at all.
#pragma once

#include <array>
#include <bit>
#include <cstdint>
#include <span>

namespace hr::signal {

/// Whether no sample is NaN or infinite.
inline bool allFinite(std::span<const float> samples)
{
    // The exponent of what is not finite is all ones: adding one to it carries into the sign's place. Eight
    // lanes without a branch, because this looks at every sample that a worker answers.
    const auto carried = [](float sample) {
        return (std::bit_cast<std::uint32_t>(sample) & 0x7f800000U) + 0x00800000U;
    };
    std::array<std::uint32_t, 8> lanes{};
    while (samples.size() >= lanes.size()) {
        for (std::size_t lane = 0; lane < lanes.size(); ++lane)
            lanes[lane] |= carried(samples[lane]);
        samples = samples.subspan(lanes.size());
    }
    for (const float sample : samples)
        lanes[0] |= carried(sample);
    std::uint32_t any = 0;
    for (const std::uint32_t lane : lanes)
        any |= lane;
    return (any & 0x80000000U) == 0;
}

} // namespace hr::signal

// SPDX-License-Identifier: GPL-3.0-or-later
//
// Whether samples are numbers at all, and within bounds.
#pragma once

#include <array>
#include <bit>
#include <cstdint>
#include <span>

namespace hr::signal {

namespace detail {

/// Whether the magnitude of every sample, taken as a whole number, stays at or below `most`: eight lanes
/// without a branch, because this looks at every sample that a worker answers.
inline bool magnitudesAtMost(std::span<const float> samples, std::uint32_t most)
{
    // Of floats without their sign, larger numbers have larger bits; infinity and NaN have the largest.
    const auto beyond = [most](float sample) {
        return most - (std::bit_cast<std::uint32_t>(sample) & 0x7fffffffU);
    };
    std::array<std::uint32_t, 8> lanes{};
    while (samples.size() >= lanes.size()) {
        for (std::size_t lane = 0; lane < lanes.size(); ++lane)
            lanes[lane] |= beyond(samples[lane]);
        samples = samples.subspan(lanes.size());
    }
    for (const float sample : samples)
        lanes[0] |= beyond(sample);
    std::uint32_t any = 0;
    for (const std::uint32_t lane : lanes)
        any |= lane;
    return (any & 0x80000000U) == 0;
}

} // namespace detail

/// Whether no sample is NaN or infinite.
inline bool allFinite(std::span<const float> samples)
{
    return detail::magnitudesAtMost(samples, 0x7f7fffffU); // the largest finite one
}

/// Whether every sample is finite and its magnitude at most `most`, which is positive and finite.
inline bool allWithin(std::span<const float> samples, float most)
{
    return detail::magnitudesAtMost(samples, std::bit_cast<std::uint32_t>(most));
}

} // namespace hr::signal

// SPDX-License-Identifier: GPL-3.0-or-later
//
// What of the sum goes to the device, the same for whoever is heard: both channels, or one thing about them on
// both sides; all of it, or one band; in mono below a frequency; at the level it has, or 20 dB below; either
// way round.
#pragma once

#include "audition/band_filter.h"
#include "audition/ring.h"

#include <array>
#include <optional>

namespace hr::audition {

enum class Listened {
    Stereo,
    Mono, ///< half of left and right together: the middle, as mid and side have it
    Left,
    Right,
    Side, ///< half of what tells left from right
};

struct Monitor {
    static constexpr float quieter_gain = 0.1F; ///< 20 dB

    Listened listened = Listened::Stereo;
    bool quieter = false;
    bool inverted = false;         ///< polarity, of both channels
    std::optional<Band> band = {}; ///< this alone; empty: all of it
    std::optional<double> mono_below_hz =
        {}; ///< what tells left from right is left out below it; empty: nowhere

    friend bool operator==(const Monitor&, const Monitor&) = default;
};

/// Left from left and right, right from left and right.
inline std::array<float, 4> monitorMatrix(Listened listened, bool quieter, bool inverted) noexcept
{
    const float level = (quieter ? Monitor::quieter_gain : 1.0F) * (inverted ? -1.0F : 1.0F);
    const float half = level / 2;
    switch (listened) {
    case Listened::Stereo:
        return {level, 0, 0, level};
    case Listened::Mono:
        return {half, half, half, half};
    case Listened::Left:
        return {level, 0, level, 0};
    case Listened::Right:
        return {0, level, 0, level};
    case Listened::Side:
        return {half, -half, half, -half};
    }
    return {level, 0, 0, level};
}

} // namespace hr::audition

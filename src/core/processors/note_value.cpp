// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/note_value.h"

#include <array>
#include <cmath>
#include <utility>

namespace hr::processors {

std::optional<std::string> noteValue(double time_ms, double tempo_bpm)
{
    constexpr double allowed = 0.01;
    constexpr std::array<std::pair<const char*, double>, 3> kinds{{{"", 1.0}, {".", 1.5}, {"t", 2.0 / 3}}};
    if (!(tempo_bpm > 0) || !(time_ms > 0))
        return std::nullopt;
    const double whole_ms = 4 * 60000 / tempo_bpm;
    for (int part = 1; part <= 64; part *= 2)
        for (const auto& [sign, length] : kinds)
            if (std::abs(time_ms * part / (whole_ms * length) - 1) < allowed)
                return "1/" + std::to_string(part) + sign;
    return std::nullopt;
}

} // namespace hr::processors

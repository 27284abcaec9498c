// SPDX-License-Identifier: GPL-3.0-or-later
//
// Watches what comes out of a processor while it is listened to, for what harms ears and loudspeakers and is
// never meant: a steady offset (DC), and a scream far beyond full scale. Samples that are not finite end a
// processor before.
#pragma once

#include "hosting/fault.h"

#include <array>
#include <cstddef>
#include <optional>

namespace hr::audition {

class OutputGuard {
public:
    /// An offset that its input does not have, of this much of full scale, for half a second.
    static constexpr double most_offset = 0.25;
    /// RMS, for a quarter of a second, where its input has been at least scream_above_input_db lower all along.
    static constexpr double scream_dbfs = 20;
    static constexpr double scream_above_input_db = 40;

    explicit OutputGuard(double rate_hz);
    void reset();

    /// The next stretch of both; a fault once it is to be silenced.
    std::optional<hosting::Fault> look(const std::array<const float*, 2>& in,
                                       const std::array<const float*, 2>& out, std::size_t frames);

private:
    struct Side {
        double mean_in = 0, mean_out = 0; // over about a tenth of a second
        double most_power_in = 0;         // of any stretch so far
    };
    const double m_rate_hz;
    std::array<Side, 2> m_sides{};
    double m_offset_s = 0; // for how long there has been an offset
    double m_scream_s = 0;
};

} // namespace hr::audition

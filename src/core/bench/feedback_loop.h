// SPDX-License-Identifier: GPL-3.0-or-later
//
// A delay that feeds back through a filter: each of its echoes is the one before, later by the delay and once
// more through the filter. Told from an impulse response by what turns the first echo into the second, which
// has to turn the second into the third. So the delay is that of the loop, however dull and late its echoes
// become. Arithmetic only; times are in samples.
#pragma once

#include "bench/arrivals.h"

namespace hr::bench {

struct FeedbackLoop {
    double gap_samples = 0;
    std::optional<double>
        feedback_db;             ///< where the filter leaves it alone; empty where that cannot be told apart
    std::vector<Arrival> echoes; ///< at most 64, down to 60 dB below the first or to the noise
    bool doubtful = false; ///< they do not quite follow from one another: they overlap, or something moves
};

/// Of all channels of a response, up to `frames`: an echo that goes from side to side is looked for where it is
/// loudest. `echoes` are those of `arrivalsIn` without the sound itself, which came, or would
/// have come, at `input_at`. Empty where no three follow one another in that way, as where they run into each
/// other, nor two, with the first as late after the input as the second after the first.
std::optional<FeedbackLoop> findFeedbackLoop(const std::vector<std::vector<double>>& responses,
                                             const std::vector<Arrival>& echoes, double input_at,
                                             std::size_t frames, double sample_rate_hz);

} // namespace hr::bench

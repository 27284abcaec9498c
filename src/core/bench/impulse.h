// SPDX-License-Identifier: GPL-3.0-or-later
//
// What a processor answers to an impulse, worked out from an exponential sweep (A. Farina, AES 108, 2000; A.
// Novak, P. Lotton, L. Simon, JAES 63, 2015), so that its noise and its distortion stay out of it.
#pragma once

#include "bench/subject.h"

namespace hr::bench {

inline constexpr double sweep_level_dbfs = -30;

struct Sweep {
    double level_dbfs = sweep_level_dbfs;
    std::vector<double> input_gains = {}; ///< one for each main input; empty: 1 for all
    double tail_s = 1;                    ///< heard for at least so long after the sweep,
    double longest_tail_s = 1;            ///< and on, until nothing rings or so long
    bool fresh = true;                    ///< from a fresh start; else it goes on
    /// Longer and upside down: what is not linear comes to lie elsewhere in the response.
    bool another = false;
    bool with_identity = false;
    std::size_t later_frames = 0; ///< so much more silence before it
};

struct ImpulseResponses {
    /// One for each output, from time 0 on; nothing is taken out of them. The last second or more of negative
    /// time (the skirts of the sweep's ends, distortion) stands at the end, behind `frames`.
    std::vector<std::vector<double>> outputs;
    std::size_t frames = 0;       ///< of each, from time 0: as long as the sweep and its tail
    std::vector<double> identity; ///< what a wire would have answered, where that was asked for
    double tail_s = 0;            ///< that was heard after the sweep
    bool rings_on = false;        ///< it was still sounding when the longest tail ended
    double held_samples = 1;      ///< of the first output (held_samples.h)
};

/// After a quarter of a second of silence; what sleeps in silence is woken first (warm_up.h).
hosting::FaultOr<ImpulseResponses> impulseResponses(Subject& subject, const Sweep& sweep);

} // namespace hr::bench

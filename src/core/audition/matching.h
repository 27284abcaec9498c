// SPDX-License-Identifier: GPL-3.0-or-later
//
// Bringing what is compared to one level: by default its programme loudness (ITU-R BS.1770-4, gated) over the
// very section that is heard, as it is heard once it has gone round often enough, turning down rather than up.
#pragma once

#include "audition/loop_meter.h"
#include "audition/source.h"
#include "audition/treatment.h"
#include "hosting/instance.h"

namespace hr::audition {

/// Shorter sections have no gated loudness of their own: theirs is the mean momentary loudness of their
/// repetition.
inline constexpr double gated_from_s = 0.4;

/// What the section sounds like through one contender, once its own tail has filled the loop.
struct LoopLoudness {
    LoopLevels levels;
    /// How far repetitions differ in loudness, in LU: what no gain can mend. Of those that settle, how far the
    /// last two do.
    double spread_lu = 0;
};

/// The untreated section; of no use once `cancel` asks to stop.
LoopLoudness measureLoop(const Source& source, const Section& loop, const MatchRule& rule = {},
                         const std::stop_token& cancel = {});

/// Through a treatment, freshly started, its latency taken out: one repetition (and at least three seconds) to
/// settle, then repetitions until two agree to 0.02 LU. Those that never do vary: the mean of five. A section
/// of more than a minute is measured once, after the ten seconds before its beginning, and 30 s of it again.
/// Once `cancel` asks to stop, it ends with Cause::Cancelled.
hosting::FaultOr<LoopLoudness> measureLoop(const Source& source, const Section& loop,
                                           const Treatment& treatment, const MatchRule& rule = {},
                                           const std::stop_token& cancel = {});

/// Gains that bring all to the lowest; 0 dB for what has no level.
std::vector<double> matchingGainsDb(const std::vector<std::optional<double>>& levels_db);

} // namespace hr::audition

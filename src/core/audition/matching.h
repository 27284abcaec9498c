// SPDX-License-Identifier: GPL-3.0-or-later
//
// Bringing what is compared to one loudness: programme loudness (ITU-R BS.1770-4, gated) of the very
// section that is heard, turning down rather than up.
#pragma once

#include "audition/source.h"
#include "hosting/instance.h"

namespace hr::audition {

/// What the section sounds like through one candidate, once it has gone round and settled.
struct LoopLoudness {
    std::optional<double> loudness_lufs; ///< empty: below the absolute gate
    double spread_lu = 0;                ///< how far two repetitions differ: what no gain can mend
    std::optional<double> true_peak_dbtp;
};

/// The untreated section; of no use once `cancel` asks to stop.
LoopLoudness measureLoop(const Source& source, const Section& loop, const std::stop_token& cancel = {});

/// Through a processor: fresh start, one repetition to settle, two measured, latency removed. Once `cancel`
/// asks to stop, it ends with Cause::Cancelled.
hosting::FaultOr<LoopLoudness> measureLoop(const Source& source, const Section& loop,
                                           const hosting::Location& location, std::span<const double> values,
                                           const std::stop_token& cancel = {});

/// Gains that bring all to the quietest; 0 dB for what has no loudness.
std::vector<double> matchingGainsDb(const std::vector<std::optional<double>>& loudness_lufs);

} // namespace hr::audition

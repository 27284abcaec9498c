// SPDX-License-Identifier: GPL-3.0-or-later
//
// How late a processor's output is, found from its sound rather than taken on trust.
#pragma once

#include "hosting/instance.h"

namespace hr::bench {

/// Delay in samples of the first arrival that dominates: the peak of the response's excess phase, that is
/// of what is left after its minimum-phase part (A. V. Oppenheim, R. W. Schafer, "Discrete-Time Signal
/// Processing", 1989, ch. 12), so that a filter's own group delay does not count. Empty where less than half
/// of it lies within two samples (reverb, narrow filters), and beyond most_latency_samples (an echo).
std::optional<std::size_t> latencyOf(const std::vector<double>& impulse_response);

inline constexpr std::size_t most_latency_samples = 8192;

/// The same for a processor at these settings, from a burst of noise at -30 dBFS and, where that shows none,
/// at -70 dBFS. It is left freshly started.
hosting::FaultOr<std::optional<std::size_t>> findLatency(hosting::Instance& instance,
                                                         const processors::PlayConditions& conditions,
                                                         std::span<const double> values);

} // namespace hr::bench

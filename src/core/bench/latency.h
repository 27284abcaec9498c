// SPDX-License-Identifier: GPL-3.0-or-later
//
// How late a processor's output is, found from its sound rather than taken on trust.
#pragma once

#include "hosting/instance.h"

namespace hr::bench {

/// Delay of a processor's impulse response in whole samples: of the arrival that dominates its excess phase
/// (excess_phase.h), so that a filter's own group delay does not count. Empty where less than half of that lies
/// within two samples, and beyond `most_samples`.
std::optional<std::size_t> latencyOf(const std::vector<double>& impulse_response, std::size_t most_samples);

/// The same for a processor at these settings, from a burst of noise at -30 dBFS and, where that shows none,
/// at -70 dBFS; at first as far as a third of a second, then as far as it reports (once it has run) plus a
/// second. What calls itself a delay or a reverb delays on purpose: what arrives later there than it reports by
/// more than most_unreported_echo_s is an echo, as it is in a chain. What is silent at first is tried once more
/// after 4 s of sound: it may have slept. It is left freshly started; what it
/// reported once it had run is put into `reported`.
hosting::FaultOr<std::optional<std::size_t>> findLatency(hosting::Instance& instance,
                                                         const processors::PlayConditions& conditions,
                                                         std::span<const double> values,
                                                         std::size_t* reported = nullptr);

inline constexpr double most_unreported_echo_s = 0.02;

/// Whether what comes later than it says is its effect: a delay, a reverb, a chain.
bool delaysOnPurpose(const processors::ProcessorInfo& info);

} // namespace hr::bench

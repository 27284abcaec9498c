// SPDX-License-Identifier: GPL-3.0-or-later
//
// What a dynamics stage listens to, to be listened to.
#pragma once

#include "chain/chain.h"

namespace hr::chain {

/// The same nodes, so with the same parameters, wired so that the key of its first stage that has one of its
/// own comes out. Empty where no stage listens to anything but its own input.
std::optional<Chain> keySignal(const Chain& chain);

/// What feeds the key of a stage: what is wired there, else what it is set to listen to; empty: nothing.
std::vector<Edge> edgesToKey(const std::vector<Edge>& edges, const Node& stage);
/// These alone leave the chain, in place of what did.
void leadOut(std::vector<Edge>& edges, const std::vector<Edge>& sources);

/// The source as a detector hears it that has these corners (the bench's `detector_corner_low_hz` and
/// `detector_corner_high_hz`): second-order filters; empty: none on that side.
Chain detectorSignal(std::optional<double> corner_low_hz, std::optional<double> corner_high_hz);

} // namespace hr::chain

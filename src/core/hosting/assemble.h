// SPDX-License-Identifier: GPL-3.0-or-later
//
// From a location to the processor that is to run: one as it is, one made stereo, or a chain of several.
// Where each comes from is the caller's: the worker loads third-party ones, others make references.
#pragma once

#include "hosting/fault.h"
#include "hosting/location.h"
#include "processors/network.h"

#include <functional>

namespace hr::hosting {

/// One processor, not prepared yet. The location is not that of a chain.
using LoadOne = std::function<FaultOr<std::unique_ptr<processors::Processor>>(const Location&)>;

/// Stages of a chain that are loaded already, by what they are.
struct LoadedStage {
    StagePlace place;
    std::unique_ptr<processors::Processor> processor;
};
using LoadedStages = std::vector<LoadedStage>;

/// Takes a chain apart that was assembled from `location`; nothing of what is not one.
LoadedStages takeStages(std::unique_ptr<processors::Processor> chain, const Location& location);

/// Whether what is loaded for one stage can be used for the other: the same processor of the same files.
bool isSameProcessor(const StagePlace& a, const StagePlace& b);

/// Faults of a chain's stage name it in their detail: "stage 2, lv2:urn:…: …". `watch` is told of the
/// chain from then on. Of a chain what is among `kept` is not loaded
/// again.
FaultOr<std::unique_ptr<processors::Processor>> assemble(const Location& location, Channels channels,
                                                         const LoadOne& load,
                                                         const processors::NetworkWatch& watch = {},
                                                         LoadedStages kept = {});

/// "stage 2, lv2:urn:…" for the stage of this node (its index in the graph); empty for none.
std::string stageName(const Location& location, std::size_t node);

} // namespace hr::hosting

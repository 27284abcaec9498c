// SPDX-License-Identifier: GPL-3.0-or-later
//
// Stages that stand where their kind rarely helps, each with the reason: a remark, not a rule. Only what a
// stage does to all of the sound counts: those that are off or blended, and paths beside others, are left
// alone.
#pragma once

#include "chain/chain.h"

#include <functional>

namespace hr::chain {

struct PlacementRemark {
    std::string node;   ///< the stage that stands there
    std::string beside; ///< the one it stands behind or before
    std::string rule;   ///< "limiter-before-gain": for life, so that it can be silenced
    std::string reason; ///< a sentence
};

/// `kind_of` says what sort of effect a processor is (processors/kinds.h); empty where nobody knows. At most
/// one remark a stage.
std::vector<PlacementRemark>
placementRemarks(const Chain& chain, const std::function<std::string(const std::string& processor)>& kind_of);

} // namespace hr::chain

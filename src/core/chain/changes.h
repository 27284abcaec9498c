// SPDX-License-Identifier: GPL-3.0-or-later
//
// What has become of a chain from one version to the next, in words.
#pragma once

#include "chain/chain.h"

#include <functional>

namespace hr::chain {

/// A line for each change of what is heard, then of what is written beside it, in the order of the nodes:
/// "Leveller added", "Leveller: threshold_db -20 to -24", "Lantern moved from 1 to 3". Empty where nothing has
/// changed. `name_of` names nodes for people.
std::vector<std::string> changesBetween(const Chain& before, const Chain& after,
                                        const std::function<std::string(const Node&)>& name_of);

} // namespace hr::chain

// SPDX-License-Identifier: GPL-3.0-or-later
//
// Parts of a chain, as chains of their own: what one hears at a point along it.
#pragma once

#include "chain/chain.h"

#include <span>

namespace hr::chain {

/// All that leads to `node` and the node itself, which is the end: what comes out of it is heard. Of bands that
/// is their sum, of mid and side left and right again. An Error where there is no such node.
Result<Chain> upTo(const Chain& chain, const std::string& node);

/// Only what goes through `node`: of paths that run beside it nothing is heard.
Result<Chain> throughOnly(const Chain& chain, const std::string& node);

/// What the key input of `stage` listens to. An Error where it listens to nothing.
Result<Chain> keyOf(const Chain& chain, const std::string& stage);

/// The nodes in the order in which they run.
Result<std::vector<std::string>> scheduleOf(const Chain& chain);

/// Whether each node is a stage that is given nothing but what comes out of the one before, so that the chain
/// can be played stage by stage.
bool runsInTurn(const Chain& chain);

/// Of a chain that runs in turn: these of its stages alone, in the order of the chain.
Chain onlyStages(const Chain& chain, std::span<const std::string> stages);

/// Whether what leaves the chain is what comes out of this node alone.
bool endsWith(const Chain& chain, const std::string& node);

} // namespace hr::chain

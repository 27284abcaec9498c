// SPDX-License-Identifier: GPL-3.0-or-later
//
// Parts of a chain, as chains of their own: what one hears at a point along it.
#pragma once

#include "chain/chain.h"

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

/// Whether what leaves the chain is what comes out of this node alone.
bool endsWith(const Chain& chain, const std::string& node);

} // namespace hr::chain

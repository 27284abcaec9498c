// SPDX-License-Identifier: GPL-3.0-or-later
//
// Where the parts of a chain stand when it is drawn, without a unit of length: a column for each node, in the
// order in which they run, and a lane for each path that runs beside others.
//
//     in ─ s1 ─┬──────── sum ─ out        columns 0 to 5, lanes 0 and 1
//              └─ br ─ s2 ─┘
//
// In its lane a path passes no node: it leaves the lane of its node before the next column, and comes to that
// of the node it feeds right before that one.
#pragma once

#include "chain/chain.h"

namespace hr::chain {

struct DrawnNode {
    std::string id; ///< or chain_input, chain_output
    int column = 0; ///< 0: chain_input
    int lane = 0;   ///< 0: the uppermost
};

struct DrawnPath {
    Edge edge;
    int from_column = 0, from_lane = 0;
    int lane = 0; ///< in which it runs
    int to_column = 0, to_lane = 0;
    bool isKey() const { return edge.input == "key"; }
};

struct Drawing {
    std::vector<DrawnNode> nodes; ///< by column; the last is chain_output
    std::vector<DrawnPath> paths; ///< each edge of chain.graph()
    int lanes = 1;
};

/// An Error where the chain cannot run (processors::compile()).
Result<Drawing> drawingOf(const Chain& chain);

} // namespace hr::chain

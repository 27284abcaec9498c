// SPDX-License-Identifier: GPL-3.0-or-later
//
// Edits of a chain, pure: each takes a chain and returns one that runs, or says why there is none. What an edit
// leaves open it heals: around what is taken out its neighbours are joined, and splits that nothing lies
// between any more go with it. Pages, kits and pads use nothing else.
//
//     auto longer = insertBefore(chain, "s3", stage);      // on the path into s3
//     auto shorter = remove(*longer, {"s1", "s2"});
//     auto banded = splitIntoBands(*shorter, "s3", {250, 2500});
//
// Nodes are named by their ids; what is new gets one that no node of the chain has had. A chain whose nodes
// follow one another comes back without edges, in that order.
#pragma once

#include "chain/chain.h"

#include <set>

namespace hr::chain {

using Edited = Result<Chain>;

/// `node`, whose id is ignored, on the path into `before`, which is the id of a node or
/// processors::chain_output. A node that several paths lead into takes it behind their sum.
Edited insertBefore(const Chain& chain, const std::string& before, Node node);
/// The same on one edge, which must be among those of chain.graph().
Edited insertOn(const Chain& chain, const Edge& edge, Node node);

/// Joins what was before and behind each. Of a split (bands, mid and side) all goes between it and where its
/// paths meet but the stages, which then follow one another.
Edited remove(const Chain& chain, const std::set<std::string>& nodes);

/// Another processor in its place, with its purpose, phase and wiring, at these settings.
Edited replace(const Chain& chain, const std::string& stage, const std::string& processor,
               const std::string& name, std::vector<processors::Setting> settings = {});

/// As insertBefore() of a node that is there, which keeps its id.
Edited move(const Chain& chain, const std::string& node, const std::string& before);

/// Several, which come to follow one another there in this order.
Edited moveAll(const Chain& chain, const std::vector<std::string>& nodes, const std::string& before);

/// By one place along its path: past the node before or behind it. An Error where there is a split, a sum or an
/// end.
enum class Along { Earlier, Later };
Edited step(const Chain& chain, const std::string& node, Along along);

/// `stage` on a path of its own beside `node`, from what goes into that one; both are added up.
Edited putBeside(const Chain& chain, const std::string& node, Node stage);
/// What goes into `node` in bands, of which it gets one; the others pass by. `crossovers_hz` ascend.
Edited splitIntoBands(const Chain& chain, const std::string& node, const std::vector<double>& crossovers_hz,
                      std::size_t band = 0);
/// What goes into `node` as mid and side, of which it gets the mid.
Edited splitIntoMidAndSide(const Chain& chain, const std::string& node);
/// `stage`, which is to be fully wet (processors/wetness.h), fed from behind `node` and added to what leaves
/// the chain.
Edited sendFrom(const Chain& chain, const std::string& node, Node stage);

/// One end of a path led elsewhere: `path` is among the edges of chain.graph(), `as` has one of its ends.
/// Several paths into a stage meet in a sum that is made for them; a key input takes one, in place of what it
/// had. Refused where what it came from would lead nowhere, or what it went to be fed by nothing.
Edited lead(const Chain& chain, const Edge& path, const Edge& as);
/// The key input of `stage` listens to what comes out of `from` (or chain_input), through a node of its own
/// with a level and a filter. Refused where `from` comes behind the stage.
Edited keyFrom(const Chain& chain, const std::string& stage, const std::string& from);
/// It listens to `source`, which is not Wired; the node that it had for that goes.
Edited setKey(const Chain& chain, const std::string& stage, processors::KeySource source);

/// All of another chain, whose nodes follow one another or not, on the path into `before`, under new ids.
Edited paste(const Chain& chain, const std::string& before, const Chain& pasted);
/// These nodes alone, in the order of the chain, one after the other: for copying.
Edited copyOf(const Chain& chain, const std::set<std::string>& nodes);

} // namespace hr::chain

// SPDX-License-Identifier: GPL-3.0-or-later
//
// In which orders the stages of a chain may stand: those that may move exchange their places, everything else
// keeps its own.
//
//     auto stages = movable(chain, {});                    // those that are marked
//     for (const auto& order : ordersOf(*stages))          // as built first
//         auto other = reordered(chain, *stages, order);
#pragma once

#include "chain/chain.h"

#include <functional>

namespace hr::chain {

inline constexpr std::size_t most_movable = 5;

/// The stages that may move, `named` or, where none is, those that are marked (Node::may_move), in the order in
/// which the sound passes them. Refused: fewer than two, more than most_movable, nodes that are no stages, and
/// stages that are not of one path: whatever passes one of them has to pass the others.
Result<std::vector<std::string>> movable(const Chain& chain, const std::vector<std::string>& named);

/// All orders of these, the one given first.
std::vector<std::vector<std::string>> ordersOf(const std::vector<std::string>& stages);

/// `order`, at the places of `stages`; what feeds a key input goes with its stage. An Error where the result
/// does not run (a key that would come from behind its stage).
Result<Chain> reordered(const Chain& chain, const std::vector<std::string>& stages,
                        const std::vector<std::string>& order);

/// An order in which one stage has moved, in words that need no numbers: `stage` is the first of those that may
/// move, or the last, or stands right before `other`. Empty where more than one has moved, or none.
struct OneMoved {
    enum class To { First, Last, Before } to = To::First;
    std::string stage, other;
};
std::optional<OneMoved> oneMoved(const std::vector<std::string>& built, const std::vector<std::string>& order);

/// An equaliser or filter and the compressor nearest to it that can change places; empty where there are none.
/// `kind_of` as of placement.h.
struct EqualiserAndCompressor {
    std::string equaliser, compressor;
};
std::optional<EqualiserAndCompressor>
equaliserAndCompressor(const Chain& chain,
                       const std::function<std::string(const std::string& processor)>& kind_of);

} // namespace hr::chain

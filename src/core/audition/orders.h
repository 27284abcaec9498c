// SPDX-License-Identifier: GPL-3.0-or-later
//
// What the order of a chain's stages does: every order of those that may move plays the same file, is matched
// in loudness to the order as built, and what is then left of the two is told.
#pragma once

#include "audition/render.h"
#include "chain/orders.h"

namespace hr::audition {

/// Matched orders that differ by no more are the same.
inline constexpr double same_order_below_db = -100;
/// Beginnings of orders are put aside, of a longer file they would take too much room.
inline constexpr double longest_shared_s = 60;
/// Where nothing at all is left.
inline constexpr double no_residual_db = -200;

struct HeardOrder {
    std::vector<std::string> stages; ///< those that may move, as the sound passes them
    bool as_built = false;
    std::optional<double> gain_db; ///< to the loudness of the order as built; empty: one of them is silent
    std::optional<double> loudness_lufs;  ///< before that
    std::optional<double> true_peak_dbtp; ///< the same
    std::optional<double> residual_db;    ///< against the order as built, relative to it; empty for itself
    std::optional<std::size_t> same_as;   ///< the first in the list from which it does not differ
};

struct Orders {
    std::vector<std::string> movable;
    std::vector<HeardOrder> orders; ///< as built on top, then those that differ most
    std::size_t distinct = 0;
    std::size_t cannot_run = 0; ///< orders that are left out: a key would come from behind its stage
};

struct OrdersControl {
    std::stop_token cancel = {};
    std::function<void(std::size_t done, std::size_t of)> progress = {}; ///< on any thread, one at a time
};

/// As many at a time as there are cores. Where stages only follow one another (chain::runsInTurn) and the file
/// is no longer than longest_shared_s, what orders have in common at their beginning is played once. `open`
/// opens a chain, one at a time; its fault, or that of a chain while it plays, comes back as what went wrong.
/// What is put aside lies in `scratch_folder`.
Result<hosting::FaultOr<Orders>>
compareOrders(const chain::Chain& chain, const std::vector<std::string>& movable,
              const std::function<Result<hosting::FaultOr<OpenedChain>>(const chain::Chain&)>& open,
              const std::filesystem::path& file, const std::filesystem::path& scratch_folder,
              const OrdersControl& control = {});

} // namespace hr::audition

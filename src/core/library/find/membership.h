// SPDX-License-Identifier: GPL-3.0-or-later
//
// Which collections by rule and which working sets each entry is in, as they stand at the moment.
#pragma once

#include "library/find/finder.h"

namespace hr::library {

/// What decides it.
struct Rules {
    std::vector<Collection> collections; ///< by rule only
    std::vector<WorkingSet> sets;
    qint64 in_use = 0; ///< the working set; 0: everything is offered
};

Result<Rules> readRules(Store& store);

/// Brings `beside` and the finder's facets up to date. Rules may ask for collections by hand, not for each
/// other's; working sets may ask for both. The ids of those whose membership has changed.
QStringList applyRules(Finder& finder, EntryFacts& facts, const Rules& rules);

/// By position among the finder's entries.
std::vector<char> membersOf(const Finder& finder, const WorkingSet& set);

} // namespace hr::library

// SPDX-License-Identifier: GPL-3.0-or-later
//
// What this machine's kernel offers for the cage around third-party code (inside/cage.h).
#pragma once

#include <string>
#include <vector>

namespace hr::hosting {

struct CageOffers {
    bool system_calls = false; ///< seccomp filters
    int landlock = 0;          ///< version of Landlock's interface; 0: none
};

CageOffers cageOffers();

/// What is not kept from third-party code on such a machine, a sentence each; none where all is.
std::vector<std::string> missingFrom(const CageOffers& offers);

} // namespace hr::hosting

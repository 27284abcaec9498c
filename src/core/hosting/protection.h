// SPDX-License-Identifier: GPL-3.0-or-later
//
// What this machine's kernel offers for the cage around third-party code (inside/cage.h), and what follows.
// Where it does not offer enough, third-party code is not run, unless the user has decided otherwise.
#pragma once

#include <optional>
#include <string>
#include <vector>

namespace hr::hosting {

struct Protection {
    bool system_calls = false; ///< seccomp filters
    int landlock = 0;          ///< version of Landlock's interface; 0: none
    bool waived = false;       ///< the user runs plug-ins all the same: HONEST_RACK_UNPROTECTED=1
};

/// HONEST_RACK_PRETEND takes layers away, for tests: "no-filter", "landlock=2", or both with a comma.
Protection protection();

/// What is not kept from third-party code on such a machine, a sentence each; none where all is.
std::vector<std::string> missingFrom(const Protection& protection);

/// Why third-party code is not run, and what the user may do; empty where it is.
std::optional<std::string> whyNotRun(const Protection& protection);

} // namespace hr::hosting

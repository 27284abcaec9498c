// SPDX-License-Identifier: GPL-3.0-or-later
//
// Known answers first: the bench measures its own reference processors and says how far off it was.
#pragma once

#include <functional>
#include <stop_token>
#include <string>
#include <vector>

namespace hr::bench {

struct Check {
    std::string reference; ///< id and setting: "reference:gain, gain_db = -6"
    std::string figure;
    double known = 0;
    double measured = 0;   ///< NaN where the bench found none
    double allowed = 0;    ///< same unit as the figure
    std::string name = {}; ///< of the figure, for people: "lower corner"
    std::string unit = {}; ///< of all three; empty where it has none

    double error() const { return measured - known; }
    bool pass() const { return error() <= allowed && error() >= -allowed; }
};

/// Every figure that exists, against answers worked out on paper (or from the discrete filter's own
/// transfer function), each with the error that its declaration allows. `progress` is told 0 to 1; once
/// `cancel` asks to stop, what has been checked so far is returned.
std::vector<Check> selfcheck(const std::function<void(double)>& progress = {},
                             const std::stop_token& cancel = {});

} // namespace hr::bench

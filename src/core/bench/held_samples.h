// SPDX-License-Identifier: GPL-3.0-or-later
//
// Whether an output holds its values, as after a reduction of the rate.
#pragma once

#include <vector>

namespace hr::bench {

/// How many samples each value of `out` is held for, up to 4096: whole where it changes only at every n-th
/// sample; the mean where it is n for some and n + 1 for the others, as after a reduction to a rate that does
/// not divide the processor's. 1 where it changes at any sample, or hardly at all.
double heldSamples(const std::vector<double>& out);

} // namespace hr::bench

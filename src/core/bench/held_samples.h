// SPDX-License-Identifier: GPL-3.0-or-later
//
// Whether an output holds its values, as after a reduction of the rate.
#pragma once

#include <cstddef>
#include <vector>

namespace hr::bench {

/// The largest n, up to 4096, such that `out` changes only at every n-th sample; 1 where it changes at any, or
/// hardly at all.
std::size_t heldSamples(const std::vector<double>& out);

} // namespace hr::bench

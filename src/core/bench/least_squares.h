// SPDX-License-Identifier: GPL-3.0-or-later
//
// What least squares end in.
#pragma once

#include <vector>

namespace hr::bench {

/// Solves the normal equations, a small symmetric system of as many rows as `right` has values; what is
/// singular in it is left out (G. H. Golub, C. Reinsch 1970).
std::vector<double> solved(std::vector<double> matrix, std::vector<double> right);

} // namespace hr::bench

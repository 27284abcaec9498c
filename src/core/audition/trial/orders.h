// SPDX-License-Identifier: GPL-3.0-or-later
//
// In which order the hidden ones of a blind trial are offered: settled before the first answer, and balanced.
#pragma once

#include <cstdint>
#include <vector>

namespace hr::audition {

/// For each pass, who stands behind each label, from 0. Over as many passes as there are hidden ones each
/// stands behind each label once (a cyclic square, its rows and who is who shuffled; each square anew).
std::vector<std::vector<std::size_t>> balancedOrders(std::size_t hidden, int passes, std::uint64_t seed);

} // namespace hr::audition

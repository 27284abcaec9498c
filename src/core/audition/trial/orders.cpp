// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/trial/orders.h"

#include <algorithm>
#include <numeric>
#include <random>

namespace hr::audition {

std::vector<std::vector<std::size_t>> balancedOrders(std::size_t hidden, int passes, std::uint64_t seed)
{
    std::mt19937_64 random(seed);
    std::vector<std::vector<std::size_t>> orders;
    const auto wanted = static_cast<std::size_t>(std::max(passes, 0));
    while (hidden > 0 && orders.size() < wanted) {
        std::vector<std::size_t> who(hidden);
        std::iota(who.begin(), who.end(), std::size_t{0});
        auto rows = who;
        std::ranges::shuffle(who, random);
        std::ranges::shuffle(rows, random);
        for (std::size_t row = 0; row < hidden && orders.size() < wanted; ++row) {
            std::vector<std::size_t> order;
            for (std::size_t label = 0; label < hidden; ++label)
                order.push_back(who[(label + rows[row]) % hidden]);
            orders.push_back(std::move(order));
        }
    }
    return orders;
}

} // namespace hr::audition

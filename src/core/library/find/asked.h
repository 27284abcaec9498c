// SPDX-License-Identifier: GPL-3.0-or-later
//
// What is asked of the catalogue: words, what it should be or not be, and in which order.
#pragma once

#include "library/find/facets.h"

#include <optional>

namespace hr::library {

/// By a figure: those of which it was not measured come last.
enum class Order { Best, Name, Maker, Kind, Rating, Distortion, Cost, Latency, LoudnessShift, Noise };
inline constexpr std::size_t order_count = 10;
/// "name", "distortion": as in rules.
QString word(Order order);

struct Asked {
    QString text;
    std::vector<FacetChoice> choices;
    Order order = Order::Best;

    bool isEverything() const { return text.trimmed().isEmpty() && choices.empty(); }
    friend bool operator==(const Asked&, const Asked&) = default;
};

} // namespace hr::library

// SPDX-License-Identifier: GPL-3.0-or-later
//
// What is asked of the catalogue: words, what it should be or not be, and in which order.
#pragma once

#include "library/find/facets.h"

#include <optional>

namespace hr::library {

/// By what a list is ordered.
struct Order {
    enum By { Best, Name, Maker, Kind, Rating, Figure };
    By by = Best;
    /// Of Figure: ListFigure::key(). Those of which it was not measured come last.
    QString figure = {};

    friend bool operator==(const Order&, const Order&) = default;
};
/// All there are: the plain ones, then one a figure that is for lists.
std::vector<Order> allOrders();
/// "name", "harmonics.thd_percent": as in rules.
QString key(const Order& order);
/// For people: "name", "THD".
QString word(const Order& order);

struct Query {
    QString text;
    std::vector<FacetChoice> choices;
    Order order = {};

    bool isEverything() const { return text.trimmed().isEmpty() && choices.empty(); }
    friend bool operator==(const Query&, const Query&) = default;
};

} // namespace hr::library

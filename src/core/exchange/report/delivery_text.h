// SPDX-License-Identifier: GPL-3.0-or-later
//
// What a delivery check found, as a text block of a page.
#pragma once

#include "audition/delivery_target.h"

namespace hr::exchange {

struct DeliveryTold {
    std::string file; ///< its name, for people
    std::vector<audition::DeliveryCheck> checks;
    std::string why_none = {}; ///< empty: there are checks
};

/// Markdown: the target, then a line a file, with what fails by how much and what would mend it.
std::string deliveryAsMarkdown(const std::string& target, const std::vector<DeliveryTold>& files);

} // namespace hr::exchange

// SPDX-License-Identifier: GPL-3.0-or-later
//
// A plot of a report as SVG 1.1: paper, ink axes, logarithmic frequencies with 1-2-5 decades, a letter and a
// dash of its own at the end of each line, so that nothing is told by colour alone.
#pragma once

#include <array>
#include <nlohmann/json.hpp>
#include <string>

namespace hr::exchange {

struct SvgLook {
    int width = 640, height = 300;
    std::string sheet = "#FFFDF7", rule = "#D8D0BF", ink = "#22303A", faint = "#5F6B70";
    /// Of marks 1 to 8.
    std::array<std::string, 8> candidates{"#0068A8", "#B84A00", "#007A58", "#9C4F7E",
                                          "#8A6A00", "#26759C", "#7A4B23", "#5B4B9A"};
};

/// Of a part of kind "plot" (page.h).
std::string svgOf(const nlohmann::ordered_json& plot, const SvgLook& look = {});

} // namespace hr::exchange

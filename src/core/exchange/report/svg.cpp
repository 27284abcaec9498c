// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/report/svg.h"

#include "bench/figure_text.h"
#include "exchange/report/html.h"
#include "signal/number_text.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace hr::exchange {

using nlohmann::ordered_json;

namespace {

constexpr double left_px = 58, right_px = 34, top_px = 12, bottom_px = 40;

std::string px(double value)
{
    return signal::fixedText(value, 1);
}

struct Axis {
    double first = 0, last = 1;
    bool logarithmic = false;

    double along(double value) const
    {
        return logarithmic ? std::log(std::max(value, 1e-9) / first) / std::log(last / first)
                           : (value - first) / (last - first);
    }
};

/// 1, 2 and 5 of each decade.
std::vector<double> decades(const Axis& axis)
{
    std::vector<double> at;
    for (double decade = std::pow(10.0, std::floor(std::log10(axis.first))); decade <= axis.last; decade *= 10)
        for (const int step : {1, 2, 5})
            if (decade * step >= axis.first * 0.999 && decade * step <= axis.last * 1.001)
                at.push_back(decade * step);
    return at;
}

/// Whole steps of 1, 2 or 5; of decibels 1, 2, 3, 6, 12 and so on.
std::vector<double> steps(const Axis& axis, bool decibels)
{
    const double span = axis.last - axis.first;
    double step = std::pow(10.0, std::floor(std::log10(span / 4)));
    if (decibels) {
        step = 1;
        for (const double one : {1.0, 2.0, 3.0, 6.0, 10.0, 20.0, 40.0})
            if (span / step > 8)
                step = one;
    } else
        for (const double factor : {2.0, 2.5, 2.0})
            if (span / step > 6)
                step *= factor;
    std::vector<double> at;
    for (double value = std::ceil(axis.first / step) * step; value <= axis.last + step * 1e-6; value += step)
        at.push_back(value);
    return at;
}

std::string frequency(double hz)
{
    return hz >= 1000 ? bench::numberText(hz / 1000, 0) + "k" : bench::numberText(hz, 0);
}

Axis axisOf(const ordered_json& declared, const ordered_json& curves, int coordinate)
{
    Axis axis;
    axis.logarithmic = declared.value("logarithmic", false);
    axis.first = std::numeric_limits<double>::max();
    axis.last = std::numeric_limits<double>::lowest();
    for (const auto& curve : curves)
        for (const auto& point : curve.at("points"))
            if (point.at(static_cast<std::size_t>(coordinate)).is_number()) {
                const double value = point[static_cast<std::size_t>(coordinate)].get<double>();
                if (!std::isfinite(value) || (axis.logarithmic && value <= 0))
                    continue;
                axis.first = std::min(axis.first, value);
                axis.last = std::max(axis.last, value);
            }
    if (const auto always = declared.find("always");
        always != declared.end() && always->is_array() && always->size() == 2 && axis.first <= axis.last) {
        axis.first = std::min(axis.first, always->at(0).get<double>());
        axis.last = std::max(axis.last, always->at(1).get<double>());
    }
    if (axis.first > axis.last)
        return {axis.logarithmic ? 20.0 : 0.0, axis.logarithmic ? 20000.0 : 1.0, axis.logarithmic};
    if (axis.logarithmic) {
        axis.first = std::max(axis.first, axis.last / 1e6);
        axis.last = std::max(axis.last, axis.first * 1.01);
        return axis;
    }
    // What is flat looks flat, and nothing lies on the frame.
    const double least = std::max(declared.value("least_span", 0.0), 1e-6);
    const double middle = (axis.first + axis.last) / 2;
    const double half = std::max((axis.last - axis.first) * (coordinate == 1 ? 1.1 : 1.0), least) / 2;
    return {middle - half, middle + half, false};
}

} // namespace

std::string svgOf(const ordered_json& plot, const SvgLook& look)
{
    const ordered_json none = ordered_json::array();
    const ordered_json& curves = plot.contains("curves") ? plot["curves"] : none;
    const ordered_json x_declared = plot.value("x", ordered_json::object());
    const ordered_json y_declared = plot.value("y", ordered_json::object());
    const Axis x = axisOf(x_declared, curves, 0);
    const Axis y = axisOf(y_declared, curves, 1);
    const double right = look.width - right_px;
    const double bottom = look.height - bottom_px;
    const auto atX = [&](double value) {
        return left_px + (right - left_px) * std::clamp(x.along(value), 0.0, 1.0);
    };
    const auto atY = [&](double value) {
        return bottom - (bottom - top_px) * std::clamp(y.along(value), 0.0, 1.0);
    };
    const auto text = [&](double at_x, double at_y, const char* anchor, const std::string& words,
                          const std::string& colour, const char* weight = "normal") {
        return "<text x=\"" + px(at_x) + "\" y=\"" + px(at_y) + "\" text-anchor=\"" + anchor + "\" fill=\"" +
               colour + "\" font-weight=\"" + weight + "\">" + escaped(words) + "</text>";
    };
    const auto rule = [&](double x1, double y1, double x2, double y2) {
        return "<line x1=\"" + px(x1) + "\" y1=\"" + px(y1) + "\" x2=\"" + px(x2) + "\" y2=\"" + px(y2) +
               "\" stroke=\"" + look.rule + "\"/>";
    };
    const std::string size = "0 0 " + std::to_string(look.width) + ' ' + std::to_string(look.height);
    std::string svg = "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"" + size + "\" width=\"" +
                      std::to_string(look.width) + "\" height=\"" + std::to_string(look.height) +
                      "\" font-family=\"Inter, sans-serif\" font-size=\"11\"><title>" +
                      escaped(plot.value("heading", std::string())) + "</title><rect width=\"" +
                      std::to_string(look.width) + "\" height=\"" + std::to_string(look.height) + "\" fill=\"" +
                      look.sheet + "\"/>";
    for (const double value : x.logarithmic ? decades(x) : steps(x, false)) {
        svg += rule(atX(value), top_px, atX(value), bottom);
        svg += text(atX(value), bottom + 15, "middle",
                    x.logarithmic ? frequency(value) : bench::numberText(value, x.last - x.first < 3 ? 1 : 0),
                    look.faint);
    }
    const bool decibels = y_declared.value("unit", std::string()).starts_with("dB");
    for (const double value : steps(y, decibels)) {
        svg += rule(left_px, atY(value), right, atY(value));
        svg += text(left_px - 6, atY(value) + 4, "end",
                    bench::numberText(value, y.last - y.first < 0.5 ? 3
                                             : y.last - y.first < 5 ? 1
                                                                    : 0),
                    look.faint);
    }
    const auto named = [](const ordered_json& axis) {
        const std::string unit = axis.value("unit", std::string());
        return axis.value("name", std::string()) + (unit.empty() ? "" : ", " + unit);
    };
    svg += text((left_px + right) / 2, look.height - 8.0, "middle", named(x_declared), look.ink);
    svg += "<text transform=\"translate(14 " + px((top_px + bottom) / 2) +
           ") rotate(-90)\" text-anchor=\"middle\" fill=\"" + look.ink + "\">" + escaped(named(y_declared)) +
           "</text>";
    const std::array dashes{"", "7 3", "2 3", "9 3 2 3", "4 2", "12 4", "1 2", "6 2 1 2"};
    double last_label = -1e9;
    constexpr double beside_px = 3; // stems of several stand side by side
    double stem_x = -beside_px * (static_cast<double>(curves.size()) - 1) / 2;
    for (const auto& curve : curves) {
        const int mark = std::clamp(curve.value("mark", 1), 0, 8);
        const std::string colour = mark == 0 ? look.ink : look.candidates[static_cast<std::size_t>(mark - 1)];
        const char* dash = dashes[static_cast<std::size_t>(std::max(mark - 1, 0)) % dashes.size()];
        std::string path;
        double end_y = bottom;
        double end_x = right;
        for (const auto& point : curve.at("points")) {
            if (!point.at(0).is_number() || !point.at(1).is_number())
                continue;
            end_x = atX(point[0].get<double>());
            end_y = atY(point[1].get<double>());
            if (plot.value("stems", false))
                path +=
                    "M" + px(end_x + stem_x) + ' ' + px(bottom) + "L" + px(end_x + stem_x) + ' ' + px(end_y);
            else
                path += (path.empty() ? "M" : "L") + px(end_x) + ' ' + px(end_y);
        }
        stem_x += beside_px;
        const bool thin = curve.value("thin", false);
        svg += "<path d=\"" + path + "\" fill=\"none\" stroke=\"" + colour + "\" stroke-width=\"" +
               (thin ? "0.8" : "1.8") + "\"" +
               (*dash ? " stroke-dasharray=\"" + std::string(dash) + '"' : std::string()) + "/>";
        for (const auto& place : curve.value("marks", none)) {
            const double mark_x = atX(place.value("x", 0.0));
            const double mark_y = atY(place.value("y", 0.0));
            svg +=
                "<circle cx=\"" + px(mark_x) + "\" cy=\"" + px(mark_y) + "\" r=\"3\" fill=\"" + colour + "\"/>";
            svg += text(mark_x + 5, mark_y - 5, "start", place.value("text", std::string()), colour);
        }
        if (thin)
            continue; // the letter stands at the curve itself
        if (std::abs(end_y - last_label) < 12)
            end_y = last_label + 12; // letters do not lie on each other
        last_label = end_y;
        svg += text(std::min(end_x + 5, right + 5), end_y + 4, "start", curve.value("letter", std::string()),
                    colour, "bold");
    }
    svg += "<rect x=\"" + px(left_px) + "\" y=\"" + px(top_px) + "\" width=\"" + px(right - left_px) +
           "\" height=\"" + px(bottom - top_px) + "\" fill=\"none\" stroke=\"" + look.ink + "\"/></svg>";
    return svg;
}

} // namespace hr::exchange

// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/plot_export.h"

#include "exchange/csv.h"
#include "exchange/report/svg.h"
#include "widgets/candidate_mark.h"

namespace hr::app {

namespace {

nlohmann::ordered_json axisAsJson(const Axis& axis)
{
    nlohmann::ordered_json json{{"name", axis.name.toStdString()},
                                {"unit", axis.unit.toStdString()},
                                {"logarithmic", axis.logarithmic},
                                {"least_span", axis.least_span}};
    if (axis.always)
        json["always"] = *axis.always;
    return json;
}

std::string axisAsText(const Axis& axis)
{
    return axis.unit.isEmpty() ? axis.name.toStdString()
                               : (axis.name + QLatin1Char('_') + axis.unit).toStdString();
}

} // namespace

std::string curvesAsSvg(const Axis& x, const Axis& y, Drawing drawing, const std::vector<Curve>& curves)
{
    nlohmann::ordered_json plot{{"heading", (y.name + QStringLiteral(" over ") + x.name).toStdString()},
                                {"x", axisAsJson(x)},
                                {"y", axisAsJson(y)},
                                {"stems", drawing != Drawing::Lines},
                                {"curves", nlohmann::ordered_json::array()}};
    for (const Curve& curve : curves) {
        auto marks = nlohmann::ordered_json::array();
        for (const PlotMark& mark : curve.marks)
            marks.push_back({{"x", mark.x}, {"y", mark.y}, {"text", mark.text.toStdString()}});
        plot["curves"].push_back({{"letter", markLetter(curve.mark).toStdString()},
                                  {"mark", curve.mark},
                                  {"title", curve.label.toStdString()},
                                  {"thin", curve.thin},
                                  {"points", curve.points},
                                  {"marks", marks}});
    }
    return exchange::svgOf(plot);
}

std::string curvesAsCsv(const Axis& x, const Axis& y, const std::vector<Curve>& curves)
{
    std::string csv =
        "curve," + exchange::csvField(axisAsText(x)) + ',' + exchange::csvField(axisAsText(y)) + "\r\n";
    for (const Curve& curve : curves)
        for (const auto& [at, value] : curve.guide ? decltype(curve.points)() : curve.points)
            csv += exchange::csvField(curve.label.toStdString()) + ',' + nlohmann::json(at).dump() + ',' +
                   nlohmann::json(value).dump() + "\r\n";
    return csv;
}

} // namespace hr::app

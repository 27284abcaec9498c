// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/measure/plot_sheet.h"

#include "widgets/candidate_mark.h"

#include <QVBoxLayout>

namespace hr::app {

namespace {

Axis axisOf(const std::string& quantity)
{
    const bench::Quantity q = bench::quantityOf(quantity);
    return {QString::fromStdString(q.name), QString::fromStdString(q.unit), q.logarithmic, q.least_span,
            q.digits};
}

} // namespace

Sheet* plotSheet(const QString& title, const QString& how, Plot* plot)
{
    auto* sheet = new Sheet;
    auto* column = new QVBoxLayout(sheet);
    column->setContentsMargins(14, 8, 8, 6);
    column->setSpacing(2);
    auto* top = new QHBoxLayout;
    top->addWidget(label(title, "strong"));
    top->addSpacing(8);
    auto* words = new ElidedLabel(how);
    setRole(words, "faint");
    top->addWidget(words, 1);
    column->addLayout(top);
    column->addWidget(plot, 1);
    return sheet;
}

Plot* plotFor(const bench::PlotInfo& plot)
{
    Axis y = axisOf(plot.y);
    y.logarithmic = false; // only x can be
    return new Plot(axisOf(plot.x), y,
                    !plot.stems         ? Drawing::Lines
                    : plot.x == "order" ? Drawing::OddAndEven
                                        : Drawing::Stems);
}

std::vector<Curve> curvesOf(const std::vector<Benched>& benched, const bench::PlotInfo& plot)
{
    std::vector<Curve> curves;
    for (const Benched& one : benched) {
        const auto* reading = one.reading(QString::fromStdString(plot.test));
        if (!reading)
            continue;
        const QString name =
            markLetter(one.mark) + QLatin1Char(' ') + one.title.section(QLatin1Char(' '), 0, 0);
        const auto of_this = bench::curvesIn(*reading, plot);
        for (const bench::Curve& curve : of_this)
            curves.push_back({one.mark, name, curve.points});
        if (of_this.size() == 1)
            for (const bench::Mark& mark : bench::marksOf(*reading, plot))
                curves.back().marks.push_back({mark.x, mark.y, QString::fromStdString(mark.text)});
    }
    if (plot.guide && !curves.empty()) {
        const auto& points = curves.front().points;
        const std::pair ends(points.front().first, points.back().first);
        curves.insert(
            curves.begin(),
            {0, QStringLiteral("1:1"), {{ends.first, ends.first}, {ends.second, ends.second}}, {}, true});
    }
    return curves;
}

} // namespace hr::app

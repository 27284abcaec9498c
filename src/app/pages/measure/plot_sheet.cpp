// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/measure/plot_sheet.h"

#include "theme/theme.h"
#include "widgets/candidate_mark.h"

#include <QVBoxLayout>
#include <algorithm>
#include <functional>

namespace hr::app {

namespace {

constexpr auto how_name = "how";

Axis axisOf(const std::string& quantity)
{
    const bench::Quantity q = bench::quantityOf(quantity);
    return {QString::fromStdString(q.name),
            QString::fromStdString(q.unit),
            q.logarithmic,
            q.least_span,
            q.digits,
            q.always};
}

QString shortNameOf(const MeasuredCandidate& one)
{
    return markLetter(one.mark) + QLatin1Char(' ') + one.title.section(QLatin1Char(' '), 0, 0);
}

} // namespace

Sheet* plotSheet(const QString& title, Plot* plot)
{
    auto* sheet = new Sheet;
    auto* column = new QVBoxLayout(sheet);
    column->setContentsMargins(14, 8, 8, 6);
    column->setSpacing(2);
    auto* top = new QHBoxLayout;
    top->addWidget(label(title, "strong"));
    top->addSpacing(8);
    auto* words = new ElidedLabel;
    words->setObjectName(QLatin1String(how_name));
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

namespace {

std::vector<PlotMark> asShown(const std::vector<bench::Mark>& marks)
{
    std::vector<PlotMark> all;
    for (const bench::Mark& mark : marks)
        all.push_back({mark.x, mark.y, QString::fromStdString(mark.text)});
    return all;
}

/// "−12.0 dBFS", or "−35.0 to −30.0 dBFS" where not all were the same.
QString fromTo(const std::vector<double>& values, const std::function<QString(double)>& text)
{
    const auto [least, most] = std::ranges::minmax(values);
    return text(least) == text(most) ? text(least) : QObject::tr("%1 to %2").arg(text(least), text(most));
}

/// "1.00 kHz · −12.0 dBFS": what was used for those that are drawn, as the test has kept it.
QString howOf(const std::vector<MeasuredCandidate>& candidates, const bench::PlotInfo& of)
{
    std::vector<double> frequencies_hz;
    std::vector<double> levels_dbfs;
    bool drawn = false;
    for (const MeasuredCandidate& one : candidates) {
        const auto* reading = one.reading(QString::fromStdString(of.test));
        if (!reading || bench::curvesIn(*reading, of).empty())
            continue;
        drawn = true;
        const auto& conditions = bench::conditionsOf(*reading, of);
        const auto keep = [&](const char* key, std::vector<double>& among) {
            const auto found = conditions.find(key);
            if (found != conditions.end() && found->is_number())
                among.push_back(found->get<double>());
        };
        keep("frequency_hz", frequencies_hz);
        keep("level_dbfs", levels_dbfs);
    }
    QStringList parts;
    if (drawn && (of.test == "response" || of.test == "decay" || of.test == "echoes"))
        parts << QObject::tr("exponential sweep");
    if (!frequencies_hz.empty() && of.x != "frequency_hz")
        parts << fromTo(frequencies_hz, frequencyText);
    if (!levels_dbfs.empty() && of.x != "level_dbfs")
        parts << fromTo(levels_dbfs, [](double dbfs) { return number(dbfs, 1) + QStringLiteral(" dBFS"); });
    return parts.join(QStringLiteral(" · "));
}

/// How far all are from the one with `mark`; that one itself is the zero line.
std::vector<Curve> differences(const std::vector<MeasuredCandidate>& candidates, const bench::PlotInfo& of,
                               int mark)
{
    std::vector<Curve> curves;
    const QString test = QString::fromStdString(of.test);
    const auto to = std::ranges::find(candidates, mark, &MeasuredCandidate::mark);
    const auto* reference = to == candidates.end() ? nullptr : to->reading(test);
    const auto from = reference ? bench::curvesIn(*reference, of) : std::vector<bench::Curve>();
    if (from.size() != 1)
        return curves;
    for (const MeasuredCandidate& one : candidates)
        if (const auto* reading = one.reading(test))
            for (const bench::Curve& curve : bench::curvesIn(*reading, of))
                if (auto difference = bench::differenceOf(of, curve, from.front()); !difference.points.empty())
                    curves.push_back({one.mark, shortNameOf(one), std::move(difference.points)});
    return curves;
}

/// As they were measured, with what is drawn beside them.
std::vector<Curve> curvesOf(const std::vector<MeasuredCandidate>& candidates, const bench::PlotInfo& of,
                            bool thin_on_demand)
{
    std::vector<Curve> curves;
    bool has_shared = false;
    for (const MeasuredCandidate& one : candidates) {
        const auto* reading = one.reading(QString::fromStdString(of.test));
        if (!reading)
            continue;
        if (const auto thin = bench::thinLineIn(*reading, of);
            thin && (thin_on_demand || !of.thin->on_demand)) {
            const QString name = QString::fromStdString(of.thin->name);
            const bool explained = !of.thin->on_demand;
            if (!of.thin->shared)
                curves.push_back({one.mark,
                                  markLetter(one.mark) + QLatin1Char(' ') + name,
                                  thin->points,
                                  {},
                                  true,
                                  explained});
            else if (!std::exchange(has_shared, true))
                curves.push_back({0, name, thin->points, {}, true, explained});
        }
        const auto of_this = bench::curvesIn(*reading, of);
        for (const bench::Curve& curve : of_this)
            curves.push_back({one.mark, shortNameOf(one), curve.points});
        if (of_this.size() == 1)
            curves.back().marks = asShown(bench::marksOf(*reading, of));
    }
    if (of.guide && !curves.empty()) {
        const auto& points = curves.front().points;
        const std::pair ends(points.front().first, points.back().first);
        Curve guide{0, QStringLiteral("1:1"), {{ends.first, ends.first}, {ends.second, ends.second}}};
        guide.guide = true;
        curves.insert(curves.begin(), std::move(guide));
    }
    return curves;
}

} // namespace

bool fillPlot(Plot& plot, const std::vector<MeasuredCandidate>& candidates, const bench::PlotInfo& of,
              const PlotWish& wish)
{
    auto curves = wish.against_mark ? differences(candidates, of, wish.against_mark)
                                    : curvesOf(candidates, of, wish.thin_on_demand);
    std::vector<PlotMark> grid;
    for (const MeasuredCandidate& one : candidates)
        if (const auto* reading = one.reading(QString::fromStdString(of.test)); reading && grid.empty())
            grid = asShown(bench::gridOf(*reading, of));
    const bool any = !curves.empty();
    const bool measured = std::ranges::any_of(candidates, [&](const MeasuredCandidate& one) {
        return one.reading(QString::fromStdString(of.test)) != nullptr;
    });
    plot.setNothing(measured ? QObject::tr("measured: there is nothing to draw")
                             : QObject::tr("not measured yet"));
    if (auto* how = plot.parentWidget() ? plot.parentWidget()->findChild<ElidedLabel*>(QLatin1String(how_name))
                                        : nullptr)
        how->setWhole(howOf(candidates, of));
    plot.setGrid(std::move(grid));
    plot.setCurves(std::move(curves));
    return any;
}

} // namespace hr::app

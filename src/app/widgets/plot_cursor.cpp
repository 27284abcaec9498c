// SPDX-License-Identifier: GPL-3.0-or-later
//
// What the cursor of a plot reads, and where it may stand.
#include "theme/theme.h"
#include "widgets/candidate_mark.h"
#include "widgets/plot.h"

#include <algorithm>
#include <cmath>
#include <qcustomplot.h>
#include <set>

namespace hr::app {

namespace {

/// Of the one at x; no number where the curve has none there: between stems there is nothing.
double stemOf(const Curve& curve, double x)
{
    for (const auto& [at, value] : curve.points)
        if (at == x)
            return value;
    return std::nan("");
}

} // namespace

/// Where stems of any curve stand, from the left.
std::vector<double> Plot::stemPlaces() const
{
    std::set<double> places;
    for (const Curve& curve : m_curves)
        for (const auto& point : curve.points)
            places.insert(point.first);
    return {places.begin(), places.end()};
}

double Plot::nearestStem(double x) const
{
    const auto away = [x](double place) { return std::abs(place - x); };
    const auto places = stemPlaces();
    return places.empty() ? x : *std::ranges::min_element(places, {}, away);
}

/// By a step of a key: a stem, or a two hundredth of the width.
double Plot::besideCursor(int direction) const
{
    const QCPRange range = m_plot->xAxis->range();
    if (m_cursor_text.isEmpty())
        return m_x.logarithmic ? std::sqrt(range.lower * range.upper) : range.center();
    if (hasStems()) {
        const auto places = stemPlaces();
        const auto here = std::ranges::lower_bound(places, m_cursor) - places.begin();
        return places[static_cast<std::size_t>(
            std::clamp<std::ptrdiff_t>(here + direction, 0, std::ssize(places) - 1))];
    }
    return m_x.logarithmic ? m_cursor * std::pow(range.upper / range.lower, direction / 200.0)
                           : m_cursor + direction * range.size() / 200;
}

QString Plot::readAt(double x) const
{
    QStringList lines{m_x.unit == QStringLiteral("Hz")   ? frequencyText(x)
                      : m_drawing == Drawing::OddAndEven ? m_x.name + QLatin1Char(' ') + number(x, 0)
                                                         : number(x, 1) + QLatin1Char(' ') + m_x.unit};
    for (const Curve& curve : m_curves) {
        const double value = curve.guide  ? std::nan("")
                             : hasStems() ? stemOf(curve, x)
                                          : curve.valueAt(x, m_x.logarithmic);
        if (std::isfinite(value))
            lines << QStringLiteral("%1 %2 %3")
                         .arg(curve.mark == 0 || curve.thin ? curve.label : markLetter(curve.mark),
                              figureText(value, m_y.unit, m_y.digits), m_y.unit);
    }
    return lines.size() > 1 ? lines.join(QLatin1Char('\n')) : QString();
}

void Plot::setCursor(double x)
{
    if (hasStems())
        x = nearestStem(x);
    m_cursor = x;
    m_cursor_text = readAt(x);
    const bool shown = !m_cursor_text.isEmpty();
    m_line->setVisible(shown);
    m_reading->setVisible(shown);
    if (shown) {
        m_line->point1->setCoords(x, 0);
        m_line->point2->setCoords(x, 1);
        m_reading->setText(m_cursor_text);
        const double part =
            (m_plot->xAxis->coordToPixel(x) - m_plot->axisRect()->left()) / m_plot->axisRect()->width();
        const bool left = part > 0.6;
        m_reading->setPositionAlignment(Qt::AlignTop | (left ? Qt::AlignRight : Qt::AlignLeft));
        m_reading->position->setCoords(part + (left ? -0.015 : 0.015), 0.02);
    }
    setAccessibleDescription(m_cursor_text);
    m_plot->replot(QCustomPlot::rpQueuedReplot);
}

void Plot::hideCursor()
{
    m_cursor_text.clear();
    m_line->setVisible(false);
    m_reading->setVisible(false);
}

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
//
// What stands beside the curves of a plot: its marks and their words, and the lines of the grid.
#include "theme/theme.h"
#include "widgets/candidate_mark.h"
#include "widgets/plot.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <qcustomplot.h>

namespace hr::app {

double Curve::valueAt(double x, bool logarithmic) const
{
    const auto next = std::ranges::lower_bound(points, x, {}, &std::pair<double, double>::first);
    if (next == points.begin() || next == points.end())
        return next != points.end() && next->first == x ? next->second : std::nan("");
    const auto before = next - 1;
    const double part = logarithmic ? std::log(x / before->first) / std::log(next->first / before->first)
                                    : (x - before->first) / (next->first - before->first);
    return before->second + part * (next->second - before->second);
}

void Plot::addGrid()
{
    for (const PlotMark& at : m_grid) {
        auto* line = new QCPItemLine(m_plot);
        line->setPen(QPen(Theme::palette().faint, 1, Qt::DotLine));
        line->start->setTypeY(QCPItemPosition::ptAxisRectRatio);
        line->end->setTypeY(QCPItemPosition::ptAxisRectRatio);
        line->start->setCoords(at.x, 0);
        line->end->setCoords(at.x, 1);
        auto* word = new QCPItemText(m_plot);
        word->setText(at.text);
        word->setFont(Theme::words(Theme::small_px));
        word->setColor(Theme::palette().faint);
        word->setPositionAlignment(Qt::AlignLeft | Qt::AlignTop);
        word->setPadding(QMargins(3, 1, 0, 0));
        word->position->setTypeY(QCPItemPosition::ptAxisRectRatio);
        word->position->setCoords(at.x, 0);
        m_beside.push_back(line);
        m_beside.push_back(word);
    }
}

/// A dot at each, and its word above.
void Plot::addMarks(const Curve& curve)
{
    if (curve.marks.empty())
        return;
    QCPGraph* dots = m_plot->addGraph();
    dots->setLineStyle(QCPGraph::lsNone);
    dots->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssDisc, markColour(curve.mark), 7));
    for (const PlotMark& mark : curve.marks) {
        dots->addData(mark.x, mark.y);
        if (mark.text.isEmpty())
            continue;
        auto* word = new QCPItemText(m_plot);
        word->setText(mark.text);
        word->setFont(Theme::words(Theme::small_px));
        word->setColor(markColour(curve.mark));
        word->position->setCoords(mark.x, mark.y);
        m_beside.push_back(word);
        m_words.push_back(word);
    }
}

/// Whether a line runs through it.
bool Plot::isOnALine(const QRect& there) const
{
    constexpr int step_px = 3;
    return std::ranges::any_of(m_curves, [&](const Curve& curve) {
        for (int x = there.left(); !hasStems() && x <= there.right(); x += step_px) {
            const double y = curve.valueAt(m_plot->xAxis->pixelToCoord(x), m_x.logarithmic);
            if (!std::isnan(y) &&
                std::abs(m_plot->yAxis->coordToPixel(y) - there.center().y()) <= there.height() / 2.0)
                return true;
        }
        return false;
    });
}

/// Beside their marks, where they lie neither outside nor on each other nor on a dot, and on no line where that
/// can be; the dots of the others stand alone.
void Plot::placeWords()
{
    constexpr int dot_px = 5; // to each side, with some air
    const QRect inside = m_plot->axisRect()->rect();
    std::vector<QPoint> dots;
    for (const Curve& curve : m_curves)
        for (const PlotMark& mark : curve.marks)
            dots.emplace_back(static_cast<int>(m_plot->xAxis->coordToPixel(mark.x)),
                              static_cast<int>(m_plot->yAxis->coordToPixel(mark.y)));
    std::vector<QRect> taken;
    for (QCPItemText* word : m_words) {
        const QPoint at = word->position->pixelPosition().toPoint();
        const QSize size = QFontMetrics(word->font()).size(0, word->text()) + QSize(5, 4);
        const auto placeAt = [&](Qt::Alignment side) {
            return QRect(QPoint(side.testFlag(Qt::AlignLeft) ? at.x() : at.x() - size.width(),
                                side.testFlag(Qt::AlignTop) ? at.y() : at.y() - size.height()),
                         size);
        };
        std::array sides{Qt::AlignLeft | Qt::AlignBottom, Qt::AlignRight | Qt::AlignBottom,
                         Qt::AlignLeft | Qt::AlignTop, Qt::AlignRight | Qt::AlignTop};
        std::ranges::stable_sort(sides, {}, [&](Qt::Alignment side) { return isOnALine(placeAt(side)); });
        bool fits = false;
        for (const Qt::Alignment side : sides) {
            const QRect there = placeAt(side);
            const bool on_a_dot = std::ranges::any_of(dots, [&](const QPoint& dot) {
                return (dot - at).manhattanLength() > 2 &&
                       there.intersects(QRect(dot - QPoint(dot_px, dot_px), QSize(2 * dot_px, 2 * dot_px)));
            });
            const bool on_another =
                std::ranges::any_of(taken, [&](const QRect& other) { return other.intersects(there); });
            if (on_a_dot || on_another || !inside.contains(there))
                continue;
            const bool to_right = side.testFlag(Qt::AlignLeft);
            word->setPositionAlignment(side);
            word->setPadding(QMargins(to_right ? 5 : 0, 0, to_right ? 0 : 5, 4));
            taken.push_back(there);
            fits = true;
            break;
        }
        word->setVisible(fits);
    }
}

} // namespace hr::app

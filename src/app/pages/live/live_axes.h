// SPDX-License-Identifier: GPL-3.0-or-later
//
// Axes of the small pictures that move while it plays: paper, thin rules, a name above.
#pragma once

#include <QPainter>
#include <QString>
#include <vector>

namespace hr::app {

class LiveAxes {
public:
    struct Scale {
        double first = 0, last = 1;
        bool logarithmic = false;
    };
    /// A scale with the pixels between which it lies.
    struct Span {
        Scale scale;
        double left = 0, right = 1;
        double valueAt(double x) const; ///< held within the scale
        double xOf(double value) const;
    };
    LiveAxes(const QRectF& all, Scale x, Scale y);

    void title(QPainter& painter, const QString& name) const;
    /// Rules with their numbers at these values.
    void ruleX(QPainter& painter, const std::vector<std::pair<double, QString>>& at) const;
    void ruleY(QPainter& painter, const std::vector<double>& at, const QString& unit) const;

    double x(double value) const;
    double y(double value) const; ///< held within the area
    const QRectF& area() const { return m_area; }
    Span spanX() const { return {m_x, m_area.left(), m_area.right()}; }

private:
    QRectF m_all, m_area;
    Scale m_x, m_y;
};

} // namespace hr::app

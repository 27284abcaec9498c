// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/live/live_axes.h"

#include "theme/theme.h"

#include <algorithm>
#include <cmath>

namespace hr::app {

namespace {

double along(const LiveAxes::Scale& scale, double value)
{
    return scale.logarithmic ? std::log(value / scale.first) / std::log(scale.last / scale.first)
                             : (value - scale.first) / (scale.last - scale.first);
}

} // namespace

double LiveAxes::Span::valueAt(double x) const
{
    const double part = std::clamp((x - left) / std::max(1.0, right - left), 0.0, 1.0);
    return scale.logarithmic ? scale.first * std::pow(scale.last / scale.first, part)
                             : scale.first + part * (scale.last - scale.first);
}

double LiveAxes::Span::xOf(double value) const
{
    return left + (right - left) * along(scale, value);
}

LiveAxes::LiveAxes(const QRectF& all, Scale x, Scale y)
    : m_all(all), m_area(all.adjusted(34, 20, -8, -18)), m_x(x), m_y(y)
{
}

void LiveAxes::title(QPainter& painter, const QString& name) const
{
    painter.setFont(Theme::words(Theme::small_px));
    painter.setPen(Theme::palette().faint);
    painter.drawText(QRectF(m_all.left() + 4, m_all.top() + 2, m_all.width() - 8, 16), Qt::AlignLeft, name);
}

double LiveAxes::x(double value) const
{
    return spanX().xOf(value);
}

double LiveAxes::y(double value) const
{
    return m_area.bottom() - m_area.height() * std::clamp(along(m_y, value), 0.0, 1.0);
}

void LiveAxes::ruleX(QPainter& painter, const std::vector<std::pair<double, QString>>& at) const
{
    const Palette& p = Theme::palette();
    painter.setFont(Theme::figures(9));
    for (const auto& [value, text] : at) {
        painter.setPen(QPen(p.rule, 1));
        painter.drawLine(QPointF(x(value), m_area.top()), QPointF(x(value), m_area.bottom()));
        painter.setPen(p.faint);
        painter.drawText(QRectF(x(value) - 24, m_area.bottom() + 3, 48, 12), Qt::AlignCenter, text);
    }
}

void LiveAxes::ruleY(QPainter& painter, const std::vector<double>& at, const QString& unit) const
{
    const Palette& p = Theme::palette();
    painter.setFont(Theme::figures(9));
    for (const double value : at) {
        painter.setPen(QPen(p.rule, 1));
        painter.drawLine(QPointF(m_area.left(), y(value)), QPointF(m_area.right(), y(value)));
        painter.setPen(p.faint);
        painter.drawText(QRectF(m_area.left() - 34, y(value) - 7, 30, 14), Qt::AlignRight | Qt::AlignVCenter,
                         value == at.back() ? unit : number(value, 0));
    }
}

} // namespace hr::app

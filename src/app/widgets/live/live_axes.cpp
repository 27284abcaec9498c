// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/live/live_axes.h"

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

LiveAxes::LiveAxes(QPainter& painter, const QRectF& all, const QString& name, Scale x, Scale y)
    : m_painter(painter), m_area(all.adjusted(34, 20, -8, -18)), m_x(x), m_y(y)
{
    const Palette& p = Theme::palette();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setFont(Theme::words(Theme::small_px));
    painter.setPen(p.faint);
    painter.drawText(QRectF(all.left() + 4, all.top() + 2, all.width() - 8, 16), Qt::AlignLeft, name);
}

double LiveAxes::x(double value) const
{
    return spanX().xOf(value);
}

double LiveAxes::y(double value) const
{
    return m_area.bottom() - m_area.height() * std::clamp(along(m_y, value), 0.0, 1.0);
}

void LiveAxes::ruleX(const std::vector<std::pair<double, QString>>& at)
{
    const Palette& p = Theme::palette();
    m_painter.setFont(Theme::figures(9));
    for (const auto& [value, text] : at) {
        m_painter.setPen(QPen(p.rule, 1));
        m_painter.drawLine(QPointF(x(value), m_area.top()), QPointF(x(value), m_area.bottom()));
        m_painter.setPen(p.faint);
        m_painter.drawText(QRectF(x(value) - 24, m_area.bottom() + 3, 48, 12), Qt::AlignCenter, text);
    }
}

void LiveAxes::ruleY(const std::vector<double>& at, const QString& unit)
{
    const Palette& p = Theme::palette();
    m_painter.setFont(Theme::figures(9));
    for (const double value : at) {
        m_painter.setPen(QPen(p.rule, 1));
        m_painter.drawLine(QPointF(m_area.left(), y(value)), QPointF(m_area.right(), y(value)));
        m_painter.setPen(p.faint);
        m_painter.drawText(QRectF(m_area.left() - 34, y(value) - 7, 30, 14), Qt::AlignRight | Qt::AlignVCenter,
                           value == at.back() ? unit : number(value, 0));
    }
}

} // namespace hr::app

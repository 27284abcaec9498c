// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/listen/standing_picture.h"

#include "theme/theme.h"
#include "widgets/candidate_mark.h"

#include <QPainter>
#include <map>

namespace hr::app {

namespace {

constexpr double standing_line_px = 34;
constexpr double below_px = 40;
constexpr double names_px = 170;

} // namespace

StandingPicture::StandingPicture(QWidget* parent) : QWidget(parent)
{
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setAccessibleName(tr("how they stand"));
}

void StandingPicture::show(std::vector<Standing> standings, double first, double last, const QString& axis)
{
    m_standings = std::move(standings);
    m_first = first;
    m_last = last;
    m_axis = axis;
    QStringList words;
    for (const Standing& standing : m_standings)
        words << tr("%1: %2").arg(standing.name, number(standing.middle, 1));
    setAccessibleDescription(words.join(QStringLiteral(", ")));
    updateGeometry();
    update();
}

QSize StandingPicture::sizeHint() const
{
    return {400, static_cast<int>(standing_line_px * static_cast<double>(m_standings.size()) + below_px)};
}

void StandingPicture::paintEvent(QPaintEvent*)
{
    const Palette& p = Theme::palette();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const double left = names_px + 10;
    const double right = width() - 60.0;
    const double base = height() - below_px;
    const auto x = [&](double value) { return left + (right - left) * (value - m_first) / (m_last - m_first); };
    painter.setFont(Theme::figures(10));
    const double step = m_last > 20 ? 20 : 1;
    for (double value = m_first; value <= m_last + 1e-9; value += step) {
        painter.setPen(p.rule);
        painter.drawLine(QPointF(x(value), 0), QPointF(x(value), base));
        painter.setPen(p.faint);
        painter.drawText(QRectF(x(value) - 20, base + 3, 40, 14), Qt::AlignCenter, number(value, 0));
    }
    painter.setFont(Theme::words(Theme::small_px));
    painter.drawText(QRectF(left, base + 19, right - left, 16), Qt::AlignLeft, m_axis);
    double top = 0;
    for (const Standing& standing : m_standings) {
        const double middle = top + standing_line_px / 2;
        const bool marked = standing.mark >= 0;
        const QColor colour = marked ? markColour(standing.mark) : p.faint;
        if (marked)
            paintMark(painter, QRectF(0, middle - 11, 22, 22), standing.mark);
        painter.setPen(p.ink);
        painter.setFont(Theme::words(Theme::text_px));
        painter.drawText(
            QRectF(30, top, names_px - 30, standing_line_px), Qt::AlignVCenter | Qt::AlignLeft,
            painter.fontMetrics().elidedText(standing.name, Qt::ElideRight, static_cast<int>(names_px) - 30));
        painter.setPen(QPen(colour, 5, Qt::SolidLine, Qt::FlatCap));
        painter.drawLine(QPointF(x(standing.low), middle), QPointF(x(standing.high), middle));
        painter.setPen(Qt::NoPen);
        painter.setBrush(colour);
        std::map<double, int> same; // answers that are alike stand above one another
        for (const double answer : standing.answers)
            painter.drawEllipse(QPointF(x(answer), middle - 9 + 3.0 * std::min(same[answer]++, 6)), 2, 2);
        painter.setPen(QPen(p.ink, 2));
        painter.drawLine(QPointF(x(standing.middle), middle - 9), QPointF(x(standing.middle), middle + 9));
        painter.setFont(Theme::figures(Theme::text_px));
        painter.drawText(QRectF(right + 12, top, 46, standing_line_px), Qt::AlignVCenter | Qt::AlignRight,
                         number(standing.middle, 1));
        top += standing_line_px;
    }
}

} // namespace hr::app

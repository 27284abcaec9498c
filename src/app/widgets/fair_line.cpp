// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/fair_line.h"

#include "theme/theme.h"
#include "widgets/candidate_mark.h"

#include <QPainter>
#include <QWheelEvent>
#include <cmath>

namespace hr::app {

FairLine::FairLine(QWidget* parent) : QWidget(parent)
{
    setMinimumSize(210, 60);
    setAccessibleName(tr("fair line: loudness before and after matching"));
}

void FairLine::setMarks(std::vector<FairMark> marks)
{
    m_marks = std::move(marks);
    QStringList words;
    for (const FairMark& mark : m_marks)
        if (mark.before_lu)
            words << tr("%1 before %2 LU").arg(markLetter(mark.mark), signedNumber(*mark.before_lu, 1));
    if (!m_covered)
        setAccessibleDescription(words.join(QStringLiteral(", ")));
    update();
}

void FairLine::setCovered(bool covered)
{
    m_covered = covered;
    if (covered)
        setAccessibleDescription(tr("covered during the trial"));
    update();
}

void FairLine::wheelEvent(QWheelEvent* event)
{
    if (const int places = placesOf(*event); places != 0 && !m_covered)
        emit wheeled(places);
}

void FairLine::paintEvent(QPaintEvent*)
{
    const Palette& p = Theme::palette();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (m_covered) {
        painter.setPen(QPen(p.rule, 1, Qt::DashLine));
        painter.drawRoundedRect(QRectF(rect()).adjusted(0.5, 6.5, -0.5, -6.5), 4, 4);
        painter.setPen(p.faint);
        painter.setFont(Theme::words(Theme::small_px));
        painter.drawText(rect(), Qt::AlignCenter, tr("covered during the trial"));
        return;
    }
    double most = 3;
    for (const FairMark& mark : m_marks)
        most = std::max(most, std::abs(mark.before_lu.value_or(0)) + 0.5);
    most = std::ceil(most / 3) * 3;

    constexpr int axis_px = 16;
    const double left = 14;
    const double right = width() - 52;
    // Everything was at or above the common level: the scale begins a little below it.
    const auto x = [&](double lu) { return left + (lu + most / 6) / (most * 7 / 6) * (right - left); };
    painter.setFont(Theme::figures(9));
    painter.setPen(p.rule);
    painter.drawLine(QPointF(left, height() - axis_px), QPointF(right, height() - axis_px));
    for (double lu = 0; lu <= most; lu += most / 3) {
        painter.setPen(p.rule);
        painter.drawLine(QPointF(x(lu), height() - axis_px), QPointF(x(lu), height() - axis_px + 3));
        painter.setPen(p.faint);
        painter.drawText(QRectF(x(lu) - 24, height() - axis_px + 3, 48, 12), Qt::AlignCenter,
                         lu == 0 ? tr("0 LU") : signedNumber(lu, 0));
    }
    painter.setPen(QPen(p.ink, 1.5));
    painter.drawLine(QPointF(x(0), 2), QPointF(x(0), height() - axis_px));

    const double step = std::min(12.0, (height() - axis_px - 4.0) /
                                           static_cast<double>(std::max<std::size_t>(1, m_marks.size())));
    for (std::size_t i = 0; i < m_marks.size(); ++i) {
        const FairMark& mark = m_marks[i];
        const QColor colour = markColour(mark.mark);
        const double y = 2 + step * (static_cast<double>(i) + 0.5);
        painter.setFont(
            Theme::words(static_cast<int>(std::min(10.0, step)), mark.audible ? QFont::Bold : QFont::Normal));
        if (!mark.before_lu) {
            painter.setPen(p.faint);
            painter.drawText(QPointF(x(0) + 8, y + 3.5), tr("%1 not matched yet").arg(markLetter(mark.mark)));
            continue;
        }
        const double was = x(*mark.before_lu);
        painter.setPen(QPen(colour, 1.2, Qt::DotLine));
        const double is = x(mark.after_lu);
        painter.drawLine(QPointF(is, y), QPointF(was, y));
        painter.setPen(QPen(colour, 1.5));
        painter.setBrush(p.sheet);
        painter.drawEllipse(QPointF(was, y), 3, 3);
        painter.setBrush(colour);
        painter.drawEllipse(QPointF(is, y), 3, 3);
        painter.setPen(colour);
        painter.drawText(QPointF(std::max(is, was) + 7, y + 3.5),
                         QStringLiteral("%1 %2").arg(markLetter(mark.mark), signedNumber(*mark.before_lu, 1)));
    }
}

} // namespace hr::app

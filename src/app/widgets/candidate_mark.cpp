// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/candidate_mark.h"

#include "theme/theme.h"

#include <QPainter>
#include <QPainterPath>
#include <QWheelEvent>
#include <cmath>
#include <numbers>

namespace hr::app {

namespace {

QPolygonF polygon(const QPointF& centre, double radius, int corners, double turn)
{
    QPolygonF shape;
    for (int i = 0; i < corners; ++i) {
        const double angle = turn + 2 * std::numbers::pi * i / corners;
        shape << centre + QPointF(radius * std::sin(angle), -radius * std::cos(angle));
    }
    return shape;
}

QPainterPath shapeOf(int mark, const QRectF& box)
{
    QPainterPath path;
    const QPointF centre = box.center();
    const double r = std::min(box.width(), box.height()) / 2;
    const double quarter = std::numbers::pi / 4;
    switch (mark) {
    case 0:
        path.addRoundedRect(QRectF(centre.x() - r * 0.8, centre.y() - r * 0.8, 1.6 * r, 1.6 * r), 3, 3);
        break;
    case 1:
        path.addEllipse(centre, r * 0.9, r * 0.9);
        break;
    case 2:
        path.addPolygon(polygon(centre, r * 1.15, 4, quarter));
        break;
    case 3:
        path.addPolygon(polygon(centre, r * 1.08, 4, 0));
        break;
    case 4:
        path.addPolygon(polygon(centre + QPointF(0, r * 0.14), r * 1.16, 3, 0));
        break;
    case 5:
        path.addPolygon(polygon(centre, r, 6, 0));
        break;
    case 6:
        path.addPolygon(polygon(centre - QPointF(0, r * 0.14), r * 1.16, 3, std::numbers::pi));
        break;
    case 7:
        path.addPolygon(polygon(centre + QPointF(0, r * 0.05), r, 5, 0));
        break;
    default:
        path.addRoundedRect(QRectF(centre.x() - r, centre.y() - r * 0.68, 2 * r, 1.36 * r), r * 0.68, r * 0.68);
        break;
    }
    path.closeSubpath();
    return path;
}

} // namespace

QString markLetter(int mark)
{
    return mark == 0 ? QStringLiteral("S") : QString(QChar(u'A' + mark - 1));
}

QColor markColour(int mark)
{
    return mark == 0 ? Theme::palette().ink : Theme::palette().candidates[(mark - 1) % 8];
}

void paintShape(QPainter& painter, const QRectF& box, int mark)
{
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(Qt::NoPen);
    painter.setBrush(markColour(mark));
    painter.drawPath(shapeOf(mark, box));
    painter.restore();
}

void paintMark(QPainter& painter, const QRectF& box, int mark)
{
    paintShape(painter, box, mark);
    painter.save();
    painter.setPen(Theme::palette().sheet);
    painter.setFont(Theme::words(std::max(7, static_cast<int>(box.height() * 0.42)), QFont::Bold));
    const double down = mark == 4 ? box.height() * 0.16 : mark == 6 ? -box.height() * 0.12 : 0;
    painter.drawText(box.translated(0, down), Qt::AlignCenter, markLetter(mark));
    painter.restore();
}

CandidateMark::CandidateMark(int mark, QWidget* parent) : QWidget(parent), m_mark(mark)
{
    setFixedSize(30, 30);
    setAccessibleName(mark == 0 ? tr("reference") : tr("candidate %1").arg(markLetter(mark)));
}

int placesOf(QWheelEvent& event)
{
    const int turned = event.angleDelta().y();
    return turned == 0 ? 0 : turned < 0 ? 1 : -1;
}

void CandidateMark::wheelEvent(QWheelEvent* event)
{
    if (const int places = placesOf(*event); places != 0)
        emit wheeled(places);
}

void CandidateMark::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    paintMark(painter, rect().adjusted(2, 2, -2, -2), m_mark);
}

} // namespace hr::app

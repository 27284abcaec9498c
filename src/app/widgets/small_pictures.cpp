// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/find/small_pictures.h"

#include "theme/theme.h"

#include <QPainter>
#include <QPainterPath>

namespace hr::app {

using library::Pictures;

namespace {

constexpr int gap_px = 6;

double part(const QByteArray& heights, qsizetype i)
{
    return static_cast<unsigned char>(heights[i]) / 254.0;
}

void paintCurve(QPainter& painter, const QRectF& box, const QByteArray& heights)
{
    QPainterPath path;
    for (qsizetype i = 0; i < heights.size(); ++i) {
        const QPointF point(box.left() +
                                box.width() * static_cast<double>(i) / static_cast<double>(heights.size() - 1),
                            box.bottom() - box.height() * part(heights, i));
        if (i == 0)
            path.moveTo(point);
        else
            path.lineTo(point);
    }
    painter.drawPath(path);
}

void paintBars(QPainter& painter, const QRectF& box, const QByteArray& heights, const QColor& ink)
{
    const double step = box.width() / static_cast<double>(heights.size());
    for (qsizetype i = 0; i < heights.size(); ++i)
        painter.fillRect(QRectF(box.left() + step * static_cast<double>(i) + 1,
                                box.bottom() - box.height() * part(heights, i), step - 2,
                                box.height() * part(heights, i)),
                         ink);
}

} // namespace

void paintPictures(QPainter& painter, const QRect& box, const Pictures* pictures)
{
    const Palette& p = Theme::palette();
    const QByteArray none;
    QColor hatch = p.faint; // seen on the paper, the sheet and the selection of both themes
    hatch.setAlpha(96);
    const QByteArray* heights[] = {pictures ? &pictures->response : &none, pictures ? &pictures->in_out : &none,
                                   pictures ? &pictures->harmonics : &none};
    const double width = (box.width() - 2.0 * gap_px) / 3;
    painter.save();
    for (int i = 0; i < 3; ++i) {
        const QRectF frame(box.left() + i * (width + gap_px), box.top(), width, box.height());
        if (heights[i]->isEmpty()) {
            painter.fillRect(frame, QBrush(hatch, Qt::BDiagPattern));
            continue;
        }
        painter.setRenderHint(QPainter::Antialiasing, false);
        painter.setPen(p.rule);
        // What an untouched signal would draw: level, the diagonal, nothing.
        if (i == 0)
            painter.drawLine(QPointF(frame.left(), frame.center().y()),
                             QPointF(frame.right(), frame.center().y()));
        else if (i == 1)
            painter.drawLine(frame.bottomLeft(), frame.topRight());
        else
            painter.drawLine(frame.bottomLeft(), frame.bottomRight());
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(QPen(p.ink, 1.3));
        if (i < 2)
            paintCurve(painter, frame, *heights[i]);
        else
            paintBars(painter, frame, *heights[i], p.ink);
    }
    painter.restore();
}

} // namespace hr::app

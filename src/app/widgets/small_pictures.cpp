// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/small_pictures.h"

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

void paintPicture(QPainter& painter, const QRectF& frame, SmallPicture what, const QByteArray& heights,
                  const Palette& palette)
{
    const Palette& p = palette;
    painter.save();
    if (heights.isEmpty()) {
        QColor hatch = p.faint; // seen on the paper, the sheet and the selection of both themes
        hatch.setAlpha(96);
        painter.fillRect(frame, QBrush(hatch, Qt::BDiagPattern));
        painter.restore();
        return;
    }
    painter.setRenderHint(QPainter::Antialiasing, false);
    painter.setPen(p.rule);
    switch (what) { // what an untouched signal would draw: level, the diagonal, nothing
    case SmallPicture::Response:
        painter.drawLine(QPointF(frame.left(), frame.center().y()), QPointF(frame.right(), frame.center().y()));
        break;
    case SmallPicture::InOut:
        painter.drawLine(frame.bottomLeft(), frame.topRight());
        break;
    case SmallPicture::Harmonics:
    case SmallPicture::Decay:
        painter.drawLine(frame.bottomLeft(), frame.bottomRight());
        break;
    }
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(p.ink, 1.3));
    if (what == SmallPicture::Harmonics)
        paintBars(painter, frame, heights, p.ink);
    else
        paintCurve(painter, frame, heights);
    painter.restore();
}

void paintPictures(QPainter& painter, const QRect& box, const Pictures* pictures)
{
    const QByteArray none;
    const std::pair<SmallPicture, const QByteArray*> all[] = {
        {SmallPicture::Response, pictures ? &pictures->response : &none},
        {SmallPicture::InOut, pictures ? &pictures->in_out : &none},
        {SmallPicture::Harmonics, pictures ? &pictures->harmonics : &none}};
    const double width = (box.width() - 2.0 * gap_px) / 3;
    double left = box.left();
    for (const auto& [what, heights] : all) {
        paintPicture(painter, QRectF(left, box.top(), width, box.height()), what, *heights);
        left += width + gap_px;
    }
}

} // namespace hr::app

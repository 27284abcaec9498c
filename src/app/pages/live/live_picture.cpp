// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/live/live_picture.h"

#include <QImage>
#include <cmath>

namespace hr::app {

namespace {

/// `above` over `below`, both premultiplied.
QRgb over(QRgb above, QRgb below)
{
    const auto left = static_cast<unsigned>(255 - qAlpha(above));
    const auto mixed = [left](int a, int b) {
        return a + static_cast<int>(static_cast<unsigned>(b) * left / 255);
    };
    return qRgba(mixed(qRed(above), qRed(below)), mixed(qGreen(above), qGreen(below)),
                 mixed(qBlue(above), qBlue(below)), mixed(qAlpha(above), qAlpha(below)));
}

} // namespace

LivePicture::LivePicture(QWidget* parent) : QWidget(parent)
{
    setAttribute(Qt::WA_OpaquePaintEvent); // the sheet behind it need not be drawn again
}

void LivePicture::paintEvent(QPaintEvent*)
{
    const double ratio = devicePixelRatioF();
    if (m_ground.isNull() || m_ground.size() != size() * ratio || m_theme != Theme::current()) {
        m_theme = Theme::current();
        m_ground = QPixmap(size() * ratio);
        m_ground.setDevicePixelRatio(ratio);
        m_ground.fill(Theme::palette().sheet);
        QPainter painter(&m_ground);
        painter.setRenderHint(QPainter::Antialiasing);
        drawGround(painter);
    }
    QPainter painter(this);
    painter.drawPixmap(0, 0, m_ground);
    painter.setRenderHint(QPainter::Antialiasing);
    drawLive(painter);
}

void drawDots(QPainter& painter, const QRect& area, const std::vector<QPointF>& places, const QColor& colour,
              double size_px)
{
    const double ratio = painter.device()->devicePixelRatioF();
    QImage image(area.size() * ratio, QImage::Format_ARGB32_Premultiplied);
    image.fill(Qt::transparent);
    image.setDevicePixelRatio(ratio);
    const QRgb dot = qPremultiply(colour.rgba());
    const int side = std::max(1, static_cast<int>(std::lround(size_px * ratio)));
    for (const QPointF& place : places) {
        const QPointF at = (place - area.topLeft()) * ratio;
        if (!(at.x() >= 0 && at.x() <= image.width() && at.y() >= 0 && at.y() <= image.height()))
            continue; // nor what is no number
        const int left = static_cast<int>(std::lround(at.x() - side / 2.0));
        const int top = static_cast<int>(std::lround(at.y() - side / 2.0));
        if (left < 0 || top < 0 || left + side > image.width() || top + side > image.height())
            continue;
        for (int y = top; y < top + side; ++y) {
            auto* line = reinterpret_cast<QRgb*>(image.scanLine(y));
            for (int x = left; x < left + side; ++x)
                line[x] = over(dot, line[x]);
        }
    }
    painter.drawImage(area.topLeft(), image);
}

} // namespace hr::app

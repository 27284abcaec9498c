// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/shaped_texts.h"

#include <QCache>
#include <QStaticText>

namespace hr::app {

namespace {

QStaticText shape(const QString& text, const QFont& font)
{
    QStaticText shaped(text);
    shaped.setTextFormat(Qt::PlainText);
    shaped.prepare({}, font);
    return shaped;
}

} // namespace

void drawShaped(QPainter& painter, const QRect& box, const QString& text)
{
    static QCache<std::pair<QFont, std::pair<QString, int>>, QStaticText> kept(8000);
    const std::pair key(painter.font(), std::pair(text, box.width()));
    QStaticText* line = kept.object(key);
    if (!line) {
        line = new QStaticText(shape(text, painter.font()));
        if (line->size().width() > box.width())
            *line = shape(painter.fontMetrics().elidedText(text, Qt::ElideRight, box.width()), painter.font());
        kept.insert(key, line);
    }
    painter.drawStaticText(QPointF(box.left(), box.top() + (box.height() - line->size().height()) / 2), *line);
}

} // namespace hr::app

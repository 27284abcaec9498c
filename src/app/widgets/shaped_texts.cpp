// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/shaped_texts.h"

#include <QCache>
#include <QStaticText>
#include <QWidget>

namespace hr::app {

namespace {

QStaticText shape(const QString& text, const QFont& font)
{
    QStaticText shaped(text);
    shaped.setTextFormat(Qt::PlainText);
    shaped.prepare({}, font);
    return shaped;
}

QStaticText& kept(const QFont& font, const QString& text, int width)
{
    static QCache<std::pair<QFont, std::pair<QString, int>>, QStaticText> all(8000);
    const std::pair key(font, std::pair(text, width));
    QStaticText* line = all.object(key);
    if (!line) {
        line = new QStaticText(shape(text, font));
        if (line->size().width() > width)
            *line = shape(QFontMetrics(font).elidedText(text, Qt::ElideRight, width), font);
        all.insert(key, line);
    }
    return *line;
}

} // namespace

void drawShaped(QPainter& painter, const QRect& box, const QString& text)
{
    const QStaticText& line = kept(painter.font(), text, box.width());
    painter.drawStaticText(QPointF(box.left(), box.top() + (box.height() - line.size().height()) / 2), line);
}

int shapedWidth(const QFont& font, const QString& text)
{
    return text.isEmpty() ? 0 : static_cast<int>(kept(font, text, QWIDGETSIZE_MAX).size().width());
}

} // namespace hr::app

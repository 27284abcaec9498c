// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/find/processor_delegate.h"

#include "library/find/marks.h"
#include "theme/theme.h"
#include "widgets/shaped_texts.h"
#include "widgets/small_pictures.h"

#include <QPainter>

namespace hr::app {

namespace {

void paintMarks(QPainter& painter, const QRect& line, const QString& text, const QStringList& words)
{
    const QFontMetrics metrics = painter.fontMetrics();
    for (const auto& [at, length] : library::marksIn(text, words)) {
        const QRect mark(line.left() + shapedWidth(painter.font(), text.left(at)),
                         line.center().y() - metrics.height() / 2,
                         shapedWidth(painter.font(), text.mid(at, length)), metrics.height());
        painter.fillRect(mark & line, Theme::palette().mark);
    }
}

} // namespace

void ProcessorDelegate::paint(QPainter* painter, const QStyleOptionViewItem& option,
                              const QModelIndex& index) const
{
    const Palette& p = Theme::palette();
    painter->save();
    if (option.state & QStyle::State_Selected)
        painter->fillRect(option.rect, p.wash);
    painter->setPen(p.rule);
    painter->drawLine(option.rect.bottomLeft(), option.rect.bottomRight());
    const bool focused = option.state & QStyle::State_HasFocus;
    if (focused && index.column() == ProcessorModel::Name)
        painter->fillRect(QRect(option.rect.left(), option.rect.top(), 3, option.rect.height()), p.action);
    const QRect box = option.rect.adjusted(8, 0, -6, 0);
    if (index.column() == ProcessorModel::Name) {
        paintName(painter, box, index);
    } else if (index.column() == ProcessorModel::Measured) {
        paintPictures(*painter, option.rect.adjusted(6, 7, -6, -7), m_model.pictures(index));
    } else {
        const bool quarantined = index.data(ProcessorModel::Quarantined).toBool();
        painter->setPen(quarantined ? p.fault : p.ink);
        painter->setFont(Theme::words(Theme::text_px));
        drawShaped(*painter, box, index.data().toString());
    }
    painter->restore();
}

void ProcessorDelegate::paintName(QPainter* painter, const QRect& box, const QModelIndex& index) const
{
    const Palette& p = Theme::palette();
    painter->setFont(Theme::words(Theme::text_px, QFont::DemiBold));
    const QFontMetrics metrics = painter->fontMetrics();
    QString name = index.data().toString();
    if (index.data(ProcessorModel::Favourite).toBool())
        name += QStringLiteral("  ★");
    const QString about = index.data(ProcessorModel::About).toString();
    const int top = about.isEmpty() ? box.center().y() - metrics.height() / 2 : box.top() + 6;
    const QRect line(box.left(), top, box.width(), metrics.height());
    const QStringList words = m_model.searchedWords();
    paintMarks(*painter, line, name, words);
    painter->setPen(p.ink);
    drawShaped(*painter, line, name);
    painter->setFont(Theme::words(Theme::small_px));
    painter->setPen(p.faint);
    const QRect below(box.left(), line.bottom() + 1, box.width(), box.bottom() - line.bottom() - 5);
    paintMarks(*painter, below, about, words);
    drawShaped(*painter, below, about);
}

} // namespace hr::app

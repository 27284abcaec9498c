// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/listen/trial_card.h"

#include "theme/theme.h"
#include "widgets/candidate_mark.h"

#include <QPainter>

namespace hr::app {

TrialCard::TrialCard(QWidget* parent) : QAbstractButton(parent)
{
    setFocusPolicy(Qt::TabFocus);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

void TrialCard::show(int mark, const QString& what, const QString& key)
{
    m_mark = mark;
    m_what = what;
    m_key = key;
    setAccessibleName(what);
    setAccessibleDescription(key);
    update();
}

void TrialCard::setHeard(bool heard)
{
    m_heard = heard;
    setAccessibleDescription(heard ? tr("audible now") : m_key);
    update();
}

void TrialCard::paintEvent(QPaintEvent*)
{
    const Palette& p = Theme::palette();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const bool marked = m_heard || hasFocus();
    painter.setPen(QPen(marked ? p.action : p.rule, marked ? 2 : 1));
    painter.setBrush(m_heard ? p.wash : p.sheet);
    painter.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 6, 6);
    constexpr double side = 52;
    const QRectF box((width() - side) / 2, 22, side, side);
    if (m_mark == unknown) {
        painter.setPen(Qt::NoPen);
        painter.setBrush(p.action);
        painter.drawRoundedRect(box, 4, 4);
        painter.setPen(p.on_action);
        painter.setFont(Theme::words(26, QFont::Bold));
        painter.drawText(box, Qt::AlignCenter, QStringLiteral("X"));
    } else
        paintMark(painter, box, m_mark);
    painter.setPen(p.ink);
    painter.setFont(Theme::words(Theme::text_px));
    const QFontMetrics metrics(painter.font());
    painter.drawText(QRectF(8, 84, width() - 16.0, 22), Qt::AlignCenter,
                     metrics.elidedText(m_what, Qt::ElideRight, width() - 16));
    painter.setPen(p.faint);
    painter.setFont(Theme::words(Theme::small_px));
    painter.drawText(QRectF(8, 106, width() - 16.0, 20), Qt::AlignCenter,
                     m_heard ? tr("● audible now") : m_key);
}

} // namespace hr::app

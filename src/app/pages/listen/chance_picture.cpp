// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/listen/chance_picture.h"

#include "theme/theme.h"

#include <QPainter>
#include <algorithm>

namespace hr::app {

ChancePicture::ChancePicture(QWidget* parent) : QWidget(parent)
{
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setAccessibleName(tr("the score among those that chance has"));
}

void ChancePicture::show(std::vector<double> chances, int correct, int least)
{
    m_chances = std::move(chances);
    m_correct = correct;
    m_least = least;
    setAccessibleDescription(tr("%1 right of %2").arg(correct).arg(m_chances.size() - 1));
    update();
}

void ChancePicture::paintEvent(QPaintEvent*)
{
    if (m_chances.empty())
        return;
    const Palette& p = Theme::palette();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    constexpr double words_px = 36;
    const double base = height() - words_px;
    const double step = width() / static_cast<double>(m_chances.size());
    const double most = std::ranges::max(m_chances);
    const auto x = [&](int score) { return step * score; };
    if (m_least >= 0) {
        painter.fillRect(QRectF(x(m_least), 0, width() - x(m_least), base), p.wash);
        painter.setPen(p.faint);
        painter.setFont(Theme::words(Theme::small_px));
        painter.drawText(QRectF(x(m_least) + 4, 2, width() - x(m_least) - 4, 16), Qt::AlignLeft, tr("heard"));
    }
    for (int score = 0; score < static_cast<int>(m_chances.size()); ++score) {
        const double tall = std::max(1.0, m_chances[static_cast<std::size_t>(score)] / most * (base - 22));
        painter.fillRect(QRectF(x(score) + 1, base - tall, std::max(1.0, step - 2), tall),
                         score == m_correct ? p.action : p.rule);
    }
    painter.setPen(p.rule);
    painter.drawLine(QPointF(0, base), QPointF(width(), base));
    painter.setPen(p.faint);
    painter.setFont(Theme::figures(10));
    const int every = static_cast<int>(m_chances.size()) > 30   ? 10
                      : static_cast<int>(m_chances.size()) > 18 ? 5
                                                                : 2;
    for (int score = 0; score < static_cast<int>(m_chances.size()); score += every)
        painter.drawText(QRectF(x(score) - 20, base + 2, step + 40, 14), Qt::AlignCenter,
                         QString::number(score));
    painter.setFont(Theme::words(Theme::small_px));
    painter.drawText(QRectF(0, base + 17, width(), 16), Qt::AlignLeft,
                     tr("right answers; the height is how often chance alone has as many"));
    painter.setPen(QPen(p.action, 2));
    painter.drawLine(QPointF(x(m_correct) + step / 2, 6), QPointF(x(m_correct) + step / 2, base));
}

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
#include "frame/page_tabs.h"

#include "models/processor_model.h"
#include "theme/theme.h"

#include <QDropEvent>
#include <QMimeData>
#include <QPainter>
#include <QPainterPath>
#include <QVBoxLayout>

namespace hr::app {

namespace {

constexpr int margin_width = 104;

} // namespace

PageTabs::PageTabs(QWidget* parent) : QWidget(parent)
{
    setFixedWidth(margin_width);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(8, 54, 0, 0);
    column->setSpacing(2);
    for (const PageName page : all_pages) {
        auto* tab = new PageTab(word(page), static_cast<int>(page) + 1, this);
        connect(tab, &QAbstractButton::clicked, this, [this, page] { emit chosen(page); });
        connect(tab, &PageTab::dropped, this,
                [this, page](const QStringList& ids) { emit dropped(page, ids); });
        column->addWidget(tab);
        m_tabs.push_back(tab);
    }
    column->addStretch();
}

void PageTabs::setCurrent(PageName page)
{
    for (std::size_t i = 0; i < m_tabs.size(); ++i)
        m_tabs[i]->setChecked(static_cast<std::size_t>(page) == i);
}

void PageTabs::putBelow(QWidget* widget)
{
    auto* row = new QHBoxLayout;
    row->setContentsMargins(0, 0, 8, 12);
    row->addWidget(widget);
    static_cast<QVBoxLayout*>(layout())->addLayout(row);
}

void PageTabs::paintEvent(QPaintEvent*)
{
    const Palette& p = Theme::palette();
    QPainter painter(this);
    painter.fillRect(rect(), p.margin);
    painter.setPen(p.rule);
    painter.drawLine(width() - 1, 0, width() - 1, height());
    painter.setPen(p.ink);
    painter.setFont(Theme::words(Theme::text_px, QFont::DemiBold));
    painter.drawText(QRect(16, 14, width() - 20, 34), Qt::AlignLeft | Qt::AlignTop, tr("Honest\nRack"));
}

PageTab::PageTab(const QString& text, int number, QWidget* parent) : QAbstractButton(parent), m_number(number)
{
    setText(text);
    setCheckable(true);
    setFixedHeight(42);
    setCursor(Qt::PointingHandCursor);
    setToolTip(tr("Ctrl+%1").arg(number));
    setAcceptDrops(true);
}

void PageTab::dragEnterEvent(QDragEnterEvent* event)
{
    if (event->mimeData()->hasFormat(QLatin1String(ProcessorModel::ids_format)))
        event->acceptProposedAction();
}

void PageTab::dropEvent(QDropEvent* event)
{
    const QByteArray ids = event->mimeData()->data(QLatin1String(ProcessorModel::ids_format));
    emit dropped(QString::fromUtf8(ids).split(QLatin1Char('\n'), Qt::SkipEmptyParts));
    event->acceptProposedAction();
}

void PageTab::paintEvent(QPaintEvent*)
{
    const Palette& p = Theme::palette();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF box = QRectF(rect()).adjusted(0.5, 1.5, 0, -1.5);
    if (isChecked()) {
        // Open to the right, so that tab and page are one sheet.
        QPainterPath edge;
        edge.moveTo(box.right() + 1, box.top());
        edge.lineTo(box.left() + 7, box.top());
        edge.quadTo(box.topLeft(), QPointF(box.left(), box.top() + 7));
        edge.lineTo(box.left(), box.bottom() - 7);
        edge.quadTo(box.bottomLeft(), QPointF(box.left() + 7, box.bottom()));
        edge.lineTo(box.right() + 1, box.bottom());
        painter.fillPath(edge, p.paper);
        painter.setPen(p.rule);
        painter.drawPath(edge);
    }
    painter.setPen(hasFocus() ? p.action : isChecked() ? p.ink : p.faint);
    painter.setFont(Theme::words(Theme::heading_px, isChecked() ? QFont::DemiBold : QFont::Normal));
    painter.drawText(box.adjusted(14, 0, 0, 0), Qt::AlignVCenter | Qt::AlignLeft, text());
    if (hasFocus()) {
        painter.setPen(QPen(p.action, 2));
        painter.drawLine(QPointF(16, box.bottom() - 7),
                         QPointF(16 + painter.fontMetrics().horizontalAdvance(text()), box.bottom() - 7));
    }
}

} // namespace hr::app

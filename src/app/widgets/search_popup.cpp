// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/search_popup.h"

#include "widgets/basics.h"

#include <QKeyEvent>
#include <QLineEdit>
#include <QListWidget>
#include <QVBoxLayout>

namespace hr::app {

SearchPopup::SearchPopup(const QString& what, const QString& name, const QSize& size, QWidget* over)
    : QWidget(over, Qt::Popup)
{
    setAttribute(Qt::WA_DeleteOnClose);
    resize(size);
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    auto* sheet = new Sheet;
    outer->addWidget(sheet);
    auto* column = new QVBoxLayout(sheet);
    m_edit = new QLineEdit;
    m_edit->setPlaceholderText(what);
    m_edit->setAccessibleName(name);
    m_edit->installEventFilter(this);
    m_list = new QListWidget;
    m_list->setAccessibleName(tr("what is found"));
    m_list->setFocusPolicy(Qt::NoFocus);
    m_list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    column->addWidget(m_edit);
    column->addWidget(m_list);
    connect(m_edit, &QLineEdit::textChanged, this, &SearchPopup::typed);
    connect(m_edit, &QLineEdit::returnPressed, this, &SearchPopup::takeCurrent);
    connect(m_list, &QListWidget::itemClicked, this, [this](QListWidgetItem* item) {
        if (item->flags() != Qt::NoItemFlags) // a heading is none of what is found
            emit taken(item);
    });
}

void SearchPopup::openAt(const QPoint& at)
{
    move(at);
    show();
    m_edit->setFocus();
}

void SearchPopup::beginAtTop()
{
    m_list->setCurrentRow(-1);
    step(1);
}

void SearchPopup::step(int rows)
{
    for (int row = m_list->currentRow() + rows; row >= 0 && row < m_list->count(); row += rows)
        if (m_list->item(row)->flags() != Qt::NoItemFlags)
            return m_list->setCurrentRow(row);
}

void SearchPopup::takeCurrent()
{
    if (QListWidgetItem* item = m_list->currentItem())
        emit taken(item);
}

bool SearchPopup::eventFilter(QObject* watched, QEvent* event)
{
    if (event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Down || key == Qt::Key_Up) {
            step(key == Qt::Key_Down ? 1 : -1);
            return true;
        }
    }
    return QWidget::eventFilter(watched, event);
}

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
#include "frame/go_anywhere.h"

#include "widgets/basics.h"

#include <QKeyEvent>
#include <QLineEdit>
#include <QListWidget>
#include <QVBoxLayout>

namespace hr::app {

namespace {

constexpr int most_shown = 40;
constexpr int page_role = Qt::UserRole;
constexpr int id_role = Qt::UserRole + 1;

} // namespace

void GoAnywhere::open(Desk& desk, QWidget* over)
{
    auto* window = new GoAnywhere(desk, over);
    window->setAttribute(Qt::WA_DeleteOnClose);
    window->move(over->mapToGlobal(QPoint((over->width() - window->width()) / 2, 90)));
    window->show();
    window->m_edit->setFocus();
}

GoAnywhere::GoAnywhere(Desk& desk, QWidget* over) : QWidget(over, Qt::Popup), m_desk(desk)
{
    resize(460, 360);
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    auto* sheet = new Sheet;
    outer->addWidget(sheet);
    auto* column = new QVBoxLayout(sheet);
    m_edit = new QLineEdit;
    m_edit->setPlaceholderText(tr("a page, or a processor to listen to"));
    m_edit->setAccessibleName(tr("go to"));
    m_edit->installEventFilter(this);
    m_list = new QListWidget;
    m_list->setFocusPolicy(Qt::NoFocus);
    column->addWidget(m_edit);
    column->addWidget(m_list);
    connect(m_edit, &QLineEdit::textChanged, this, &GoAnywhere::fill);
    connect(m_edit, &QLineEdit::returnPressed, this, &GoAnywhere::go);
    connect(m_list, &QListWidget::itemClicked, this, &GoAnywhere::go);
    fill({});
}

void GoAnywhere::fill(const QString& text)
{
    m_list->clear();
    const QString pages[] = {tr("Find"), tr("Listen"), tr("Measure"), tr("Build"), tr("Keep"), tr("Write")};
    for (int i = 0; i < 6; ++i)
        if (pages[i].startsWith(text.trimmed(), Qt::CaseInsensitive)) {
            auto* item = new QListWidgetItem(tr("page %1").arg(pages[i]), m_list);
            item->setData(page_role, i);
        }
    if (!text.trimmed().isEmpty()) {
        const library::Finder& finder = m_desk.processors.finder();
        const auto found = finder.find({text, {}});
        for (std::size_t i = 0; i < std::min<std::size_t>(found.rows.size(), most_shown); ++i) {
            const library::Entry& entry = finder.entries()[static_cast<std::size_t>(found.rows[i])];
            auto* item = new QListWidgetItem(tr("%1   %2").arg(entry.title(), entry.maker), m_list);
            item->setData(id_role, entry.id);
        }
    }
    m_list->setCurrentRow(0);
}

void GoAnywhere::go()
{
    const QListWidgetItem* item = m_list->currentItem();
    if (!item)
        return;
    const QString id = item->data(id_role).toString();
    const int page = item->data(page_role).toInt();
    close();
    if (id.isEmpty())
        emit m_desk.goTo(static_cast<PageName>(page));
    else
        m_desk.listenTo(id);
}

bool GoAnywhere::eventFilter(QObject* watched, QEvent* event)
{
    if (event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Down || key == Qt::Key_Up) {
            const int row = m_list->currentRow() + (key == Qt::Key_Down ? 1 : -1);
            m_list->setCurrentRow(std::clamp(row, 0, std::max(0, m_list->count() - 1)));
            return true;
        }
    }
    return QWidget::eventFilter(watched, event);
}

} // namespace hr::app

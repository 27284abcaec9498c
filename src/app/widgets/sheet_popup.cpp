// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/sheet_popup.h"

#include "widgets/basics.h"

#include <QVBoxLayout>

namespace hr::app {

SheetPopup::SheetPopup(const QString& name, QWidget* over)
    : QWidget(over, Qt::Popup), m_over(over), m_sheet(new Sheet)
{
    setAttribute(Qt::WA_DeleteOnClose);
    setAccessibleName(name);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(m_sheet);
}

void SheetPopup::open()
{
    adjustSize();
    move(m_over->mapToGlobal(m_over->rect().center() - rect().center()));
    show();
}

} // namespace hr::app

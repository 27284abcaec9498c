// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/segments.h"

#include "widgets/basics.h"

#include <QHBoxLayout>

namespace hr::app {

Segments::Segments(const QString& accessible_name, const QStringList& choices, QWidget* parent)
    : QWidget(parent)
{
    setAccessibleName(accessible_name);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(2);
    for (int i = 0; i < choices.size(); ++i) {
        Button* button = toggle(choices[i]);
        m_group.addButton(button, i);
        row->addWidget(button);
    }
    row->addStretch();
    setCurrent(0);
    connect(&m_group, &QButtonGroup::idClicked, this, &Segments::chosen);
}

void Segments::setCurrent(int choice)
{
    if (QAbstractButton* button = m_group.button(choice))
        button->setChecked(true);
}

} // namespace hr::app

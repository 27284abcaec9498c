// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/filled_column.h"

#include "widgets/basics.h"

#include <QVBoxLayout>

namespace hr::app {

FilledColumn::FilledColumn(QWidget* parent) : QScrollArea(parent)
{
    setWidgetResizable(true);
    setFrameShape(QFrame::NoFrame);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setFocusPolicy(Qt::NoFocus);
    auto* inside = new QWidget;
    inside->setObjectName(QStringLiteral("scrolled"));
    viewport()->setAutoFillBackground(false);
    m_column = new QVBoxLayout(inside);
    m_column->setContentsMargins(0, 0, 10, 0);
    m_column->setSpacing(4);
    setWidget(inside);
}

void FilledColumn::clear()
{
    while (QLayoutItem* item = m_column->takeAt(0)) {
        delete item->widget();
        delete item;
    }
}

void FilledColumn::addText(const QString& text, const char* role)
{
    m_column->addWidget(paragraph(text, role));
}

void FilledColumn::addFigure(const QString& name, const QString& value, const char* role)
{
    auto* line = new QWidget;
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(0, 1, 0, 1);
    row->addWidget(new ElidedLabel(name), 1);
    row->addWidget(label(value, role));
    m_column->addWidget(line);
}

void FilledColumn::addButton(QWidget* button)
{
    m_column->addWidget(button, 0, Qt::AlignLeft);
}

void FilledColumn::add(QWidget* widget)
{
    m_column->addWidget(widget);
}

void FilledColumn::addSpace(int px)
{
    m_column->addSpacing(px);
}

void FilledColumn::end()
{
    m_column->addStretch();
}

} // namespace hr::app

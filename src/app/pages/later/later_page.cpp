// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/later/later_page.h"

#include "widgets/basics.h"

#include <QVBoxLayout>

namespace hr::app {

namespace {

QWidget* page(const QString& title, const QString& text)
{
    auto* made = new QWidget;
    made->setObjectName(QStringLiteral("page"));
    auto* column = new QVBoxLayout(made);
    column->setContentsMargins(20, 16, 20, 12);
    column->addWidget(label(title, "title"));
    column->addWidget(new EmptyState(QObject::tr("Not in this version yet"), text, {}), 1);
    return made;
}

} // namespace

QWidget* makeWritePage()
{
    return page(
        QObject::tr("Write"),
        QObject::tr(
            "This page will be for saying what was found: notebook pages tied to processors and comparisons, "
            "with tables and plots that come from the readings. Until then, every reading is stored with "
            "its conditions, and `hrack measure --json` writes them out."));
}

} // namespace hr::app

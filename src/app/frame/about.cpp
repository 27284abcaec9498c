// SPDX-License-Identifier: GPL-3.0-or-later
#include "frame/about.h"

#include "bench/suite.h"
#include "hosting/protection.h"
#include "widgets/basics.h"
#include "widgets/sheet_popup.h"

#include <QVBoxLayout>

namespace hr::app {

void openAbout(QWidget* over)
{
    auto* popup = new SheetPopup(QObject::tr("about Honest Rack"), over);
    popup->setFixedWidth(520);
    auto* column = new QVBoxLayout(&popup->sheet());
    column->setContentsMargins(SheetPopup::sheetMargins());
    column->setSpacing(8);
    column->addWidget(label(QObject::tr("Honest Rack"), "title"));
    column->addWidget(
        paragraph(QObject::tr("Finds, compares, measures and describes effect processors. Bench %1. Free "
                              "software under the GNU General Public License, version 3 or later.")
                      .arg(QString::fromStdString(bench::benchVersion()))));
    column->addWidget(label(QObject::tr("Other people's plug-ins"), "strong"));
    const auto missing = hosting::missingFrom(hosting::protection());
    column->addWidget(paragraph(QObject::tr(
        "Each runs in a process of its own that cannot start programs, reach the network or other "
        "processes, or write anywhere but in a folder that is emptied afterwards, unless you allow it.")));
    if (missing.empty()) {
        column->addWidget(paragraph(QObject::tr("This machine offers everything that takes."), "pass"));
    } else {
        for (const std::string& one : missing)
            column->addWidget(paragraph(QString::fromStdString(one), "caution"));
    }
    popup->open();
}

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/name_popup.h"

#include "widgets/basics.h"

#include <QLineEdit>
#include <QVBoxLayout>

namespace hr::app {

void askName(QWidget* at, const QString& what, const QString& proposed,
             const std::function<void(const QString&)>& take, std::optional<QPoint> where)
{
    auto* sheet = new Sheet(at->window());
    sheet->setWindowFlags(Qt::Popup);
    sheet->setAttribute(Qt::WA_DeleteOnClose);
    auto* column = new QVBoxLayout(sheet);
    column->setContentsMargins(12, 10, 12, 12);
    column->addWidget(label(what, "faint"));
    auto* name = new QLineEdit(proposed);
    name->setAccessibleName(what);
    name->setMinimumWidth(220);
    name->selectAll();
    column->addWidget(name);
    QObject::connect(name, &QLineEdit::returnPressed, sheet, [sheet, name, take] {
        const QString taken = name->text().trimmed();
        sheet->close();
        if (!taken.isEmpty())
            take(taken);
    });
    sheet->adjustSize();
    sheet->move(where.value_or(at->mapToGlobal(QPoint(0, at->height() + 2))));
    sheet->show();
    name->setFocus();
}

} // namespace hr::app

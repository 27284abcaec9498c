// SPDX-License-Identifier: GPL-3.0-or-later
#include "frame/key_list.h"

#include "widgets/basics.h"
#include "widgets/sheet_popup.h"

#include <QGridLayout>
#include <algorithm>

namespace hr::app {

namespace {

constexpr int columns = 2;

/// In the order in which they were declared.
QStringList groupsOf(const ActionList& actions)
{
    QStringList groups;
    for (const Action& action : actions.all())
        if (!action.key.isEmpty() && !groups.contains(action.group))
            groups << action.group;
    return groups;
}

/// A group one below the other, under its name.
void addGroup(QGridLayout& grid, int& row, int column, const ActionList& actions, const QString& group)
{
    grid.addWidget(label(group, "strong"), row++, 2 * column, 1, 2);
    for (const Action& action : actions.all()) {
        if (action.key.isEmpty() || action.group != group)
            continue;
        grid.addWidget(label(action.key.toString(QKeySequence::NativeText), "figure"), row, 2 * column);
        grid.addWidget(label(action.words), row++, 2 * column + 1);
    }
}

} // namespace

void openKeyList(const ActionList& actions, QWidget* over)
{
    auto* popup = new SheetPopup(QObject::tr("keys"), over);
    auto* grid = new QGridLayout(&popup->sheet());
    grid->setContentsMargins(SheetPopup::sheetMargins());
    grid->setHorizontalSpacing(16);
    grid->setVerticalSpacing(3);
    std::array<int, columns> next_row{};
    for (const QString& group : groupsOf(actions)) {
        const auto shortest = std::ranges::min_element(next_row);
        addGroup(*grid, *shortest, static_cast<int>(shortest - next_row.begin()), actions, group);
    }
    popup->open();
}

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
#include "frame/key_list.h"

#include "widgets/basics.h"

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
    auto* window = new QWidget(over, Qt::Popup);
    window->setAttribute(Qt::WA_DeleteOnClose);
    window->setAccessibleName(QObject::tr("keys"));
    auto* column = new QVBoxLayout(window);
    column->setContentsMargins(0, 0, 0, 0);
    auto* sheet = new Sheet;
    column->addWidget(sheet);
    auto* grid = new QGridLayout(sheet);
    grid->setContentsMargins(22, 16, 22, 16);
    grid->setHorizontalSpacing(16);
    grid->setVerticalSpacing(3);
    std::array<int, columns> next_row{};
    for (const QString& group : groupsOf(actions)) {
        const auto shortest = std::ranges::min_element(next_row);
        addGroup(*grid, *shortest, static_cast<int>(shortest - next_row.begin()), actions, group);
    }
    window->adjustSize();
    window->move(over->mapToGlobal(over->rect().center() - window->rect().center()));
    window->show();
}

} // namespace hr::app

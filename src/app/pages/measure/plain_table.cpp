// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/measure/plain_table.h"

#include "theme/theme.h"
#include "widgets/basics.h"

#include <QHeaderView>
#include <QVBoxLayout>

namespace hr::app {

namespace {

constexpr int row_px = 22;
constexpr int value_role = Qt::UserRole;      // of a cell that holds a number
constexpr int absent_role = Qt::UserRole + 1; // of a cell whose test was not taken

bool isAbsent(const QTableWidgetItem& cell)
{
    return cell.text().isEmpty() || cell.data(absent_role).toBool();
}

bool followsFigures(int column, const std::set<int>& words)
{
    return column > 0 && words.contains(column) && !words.contains(column - 1);
}

Qt::Alignment sideOf(int column, const std::set<int>& words)
{
    return (words.contains(column) ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter;
}

} // namespace

void asFigures(QTableWidget& table, const QString& accessible_name)
{
    table.setObjectName(QStringLiteral("figures"));
    table.setAccessibleName(accessible_name);
    table.setEditTriggers(QAbstractItemView::NoEditTriggers);
    table.setSelectionMode(QAbstractItemView::NoSelection);
    table.setShowGrid(false);
    table.verticalHeader()->hide();
    table.verticalHeader()->setDefaultSectionSize(row_px);
    table.horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
}

QWidget* tableSheet(QTableWidget* table)
{
    auto* sheet = new Sheet;
    auto* inside = new QVBoxLayout(sheet);
    inside->setContentsMargins(6, 2, 6, 4);
    inside->addWidget(table);
    return sheet;
}

void FigureCell::setValue(double value)
{
    setData(value_role, value);
}

void FigureCell::setAbsent()
{
    setData(absent_role, true);
    setForeground(Theme::palette().faint);
}

bool FigureCell::operator<(const QTableWidgetItem& other) const
{
    const QVariant mine = data(value_role);
    const QVariant others = other.data(value_role);
    if (mine.isValid() && others.isValid())
        return mine.toDouble() < others.toDouble();
    if (mine.isValid() != others.isValid())
        return mine.isValid();
    return isAbsent(*this) == isAbsent(other) ? text() < other.text() : isAbsent(other);
}

void setHeadings(QTableWidget& table, const QStringList& titles, const std::set<int>& words)
{
    table.clear();
    table.setRowCount(0);
    table.setColumnCount(static_cast<int>(titles.size()));
    for (int column = 0; column < table.columnCount(); ++column) {
        auto* heading =
            new QTableWidgetItem((followsFigures(column, words) ? words_indent : QString()) + titles[column]);
        heading->setTextAlignment(sideOf(column, words));
        table.setHorizontalHeaderItem(column, heading);
    }
}

void addRow(QTableWidget& table, const QStringList& texts, const std::set<int>& words)
{
    const int row = table.rowCount();
    table.insertRow(row);
    for (int column = 0; column < texts.size(); ++column) {
        auto* cell = new FigureCell((followsFigures(column, words) ? words_indent : QString()) + texts[column]);
        cell->setTextAlignment(sideOf(column, words));
        if (!words.contains(column))
            cell->setFont(Theme::figures(12));
        cell->setToolTip(texts[column].toHtmlEscaped());
        table.setItem(row, column, cell);
    }
}

} // namespace hr::app

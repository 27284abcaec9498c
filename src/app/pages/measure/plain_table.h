// SPDX-License-Identifier: GPL-3.0-or-later
//
// How tables of figures look: to be read, not edited; headings stand over what they name, words to the left,
// figures to the right.
#pragma once

#include <QTableWidget>
#include <optional>
#include <set>

namespace hr::app {

/// Before words that stand to the right of figures.
inline const QString words_indent = QStringLiteral("   ");

void asFigures(QTableWidget& table, const QString& accessible_name);
/// On a sheet of its own.
QWidget* tableSheet(QTableWidget* table);

/// Sorted as numbers, after which come words, after which comes what is not there.
class FigureCell : public QTableWidgetItem {
public:
    using QTableWidgetItem::QTableWidgetItem;

    void setValue(double value);
    void setAbsent(); ///< words in place of what was not taken
    bool operator<(const QTableWidgetItem& other) const override;
};

/// Empties the table and gives it these columns, of which `words` hold no figures.
void setHeadings(QTableWidget& table, const QStringList& titles, const std::set<int>& words = {0});
/// A row at the end, under such headings; each text whole in its tip.
void addRow(QTableWidget& table, const QStringList& texts, const std::set<int>& words = {0});

} // namespace hr::app

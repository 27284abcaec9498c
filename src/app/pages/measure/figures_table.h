// SPDX-License-Identifier: GPL-3.0-or-later
//
// Figures side by side: a row each, a column a candidate. What was not measured is blank; what does not exist
// says so, and why in its tip. What differs from the first by more than both may be off is bold.
#pragma once

#include "pages/measure/benched.h"

#include <QTableWidget>

namespace hr::app {

/// How tables of figures look: to be read, not edited.
void asFigures(QTableWidget& table, const QString& accessible_name);

class FiguresTable : public QTableWidget {
    Q_OBJECT
public:
    explicit FiguresTable(QWidget* parent = nullptr);

    /// Test and figure; those of a group as "at_100_hz.thd_db".
    using Row = std::pair<QString, QString>;
    void fill(const std::vector<Benched>& benched, const std::vector<Row>& rows);
    /// Every figure of one test, groups opened.
    void fillWith(const std::vector<Benched>& benched, const QString& test);

private:
    void addRow(const std::vector<Benched>& benched, const Row& row);
    void markDifferences(const std::vector<Benched>& benched, const Row& row, const bench::FigureInfo& figure,
                         int at);
};

} // namespace hr::app

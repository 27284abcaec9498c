// SPDX-License-Identifier: GPL-3.0-or-later
//
// Figures side by side: a row each, a column a candidate. What was not measured says so; so does what does not
// exist, and why in its tip. What differs from the first by more than the uncertainty of both is bold. A
// click on a figure's name, or Return, says what it is; Ctrl+C copies all.
#pragma once

#include "pages/measure/measured_candidate.h"
#include "pages/measure/plain_table.h"

namespace hr::app {

class FiguresTable : public QTableWidget {
    Q_OBJECT
public:
    explicit FiguresTable(QWidget* parent = nullptr);

    /// Test and figure; those of a group as "at_100_hz.thd_db".
    using Row = std::pair<QString, QString>;
    void fill(const std::vector<MeasuredCandidate>& candidates, const std::vector<Row>& rows);
    /// Every figure of one test, groups opened; of checks also what their results mean for the work.
    void fillWith(const std::vector<MeasuredCandidate>& candidates, const QString& test);
    /// Every figure of every test that anybody was measured with, each under its test's name; they can be
    /// sorted by any column.
    void fillWithAll(const std::vector<MeasuredCandidate>& candidates);

    struct Wish {
        QString words; ///< in the figure's or the test's name
        bool only_differing = false;
    };
    /// Only these rows are in sight.
    void filter(const Wish& wish);
    /// Those in sight, from the top.
    std::vector<Row> rowsInSight() const;
    /// Of those in sight, tab-separated as they stand there.
    QString text() const;

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    void addMeanings(const std::vector<MeasuredCandidate>& candidates, const std::vector<Row>& rows);
    static std::vector<Row> rowsOf(const std::vector<MeasuredCandidate>& candidates, const QString& test);
    void addRow(const std::vector<MeasuredCandidate>& candidates, const Row& row);
    void markDifferences(const std::vector<MeasuredCandidate>& candidates, const Row& row,
                         const bench::FigureInfo& figure, int at);
    void explain(int row);

    bool m_with_tests = false; // names of tests before those of figures
};

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
//
// One test of the bench, whole: its plots, which overlay all candidates, and every figure of it side by side.
#pragma once

#include "pages/measure/figures_table.h"
#include "pages/measure/plot_sheet.h"

#include <QWidget>

class QHBoxLayout;

namespace hr::app {

class TestView : public QWidget {
    Q_OBJECT
public:
    /// `test` by its key.
    explicit TestView(const QString& test, QWidget* parent = nullptr);

    const QString& test() const { return m_test; }
    void fill(const std::vector<Benched>& benched);

private:
    struct Shown {
        const bench::PlotInfo* of;
        Plot* plot;
        Sheet* sheet;
    };

    QString m_test;
    std::vector<Shown> m_plots;
    QWidget* m_row = nullptr;
    QLabel* m_meaning = nullptr; // what failed checks mean
    FiguresTable* m_table = nullptr;
};

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
//
// One test of the bench, whole: its plots, which overlay all candidates, together or one of them in full size,
// as measured or against one of them; and every figure of it side by side.
#pragma once

#include "pages/measure/figures_table.h"
#include "pages/measure/plot_sheet.h"

#include <QWidget>

class QCheckBox;
class QComboBox;
class QGridLayout;
class QLabel;

namespace hr::app {

class TestView : public QWidget {
    Q_OBJECT
public:
    /// `test` by its key.
    explicit TestView(const QString& test, QWidget* parent = nullptr);

    const QString& test() const { return m_test; }
    void fill(const std::vector<MeasuredCandidate>& candidates);

private:
    struct Shown {
        const bench::PlotInfo* of;
        Plot* plot;
        Sheet* sheet;
    };
    QWidget* makeChoices();
    void fillAgainst();
    void fillPlots();
    void arrange(const std::vector<Sheet*>& sheets);

    QString m_test;
    std::vector<MeasuredCandidate> m_candidates;
    std::vector<Shown> m_plots;
    QWidget* m_choices = nullptr;
    QComboBox* m_which = nullptr;   // of the plots; the first entry: all
    QComboBox* m_against = nullptr; // by set-up; the first entry: nobody
    QCheckBox* m_second = nullptr;  // thin lines on demand
    QWidget* m_place = nullptr;
    QGridLayout* m_grid = nullptr;
    QLabel* m_meaning = nullptr; // what failed checks mean
    FiguresTable* m_table = nullptr;
};

} // namespace hr::app

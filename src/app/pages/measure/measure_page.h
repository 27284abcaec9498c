// SPDX-License-Identifier: GPL-3.0-or-later
//
// Measure: what the candidates do, side by side: curves over each other with one cursor, figures in a table,
// each with its unit and conditions; the overview, or one test whole.
#pragma once

#include "bench/plots.h"
#include "models/bench_queue.h"
#include "models/compare_job.h"
#include "models/fit_job.h"
#include "models/line_up.h"
#include "models/live_tap.h"
#include "models/sweep_job.h"
#include "pages/measure/measured_candidate.h"
#include "services/bench_conditions.h"
#include "services/navigation.h"
#include "signal/result.h"

#include <QWidget>

class QLabel;
class QPushButton;
class QVBoxLayout;

namespace hr::app {

class ElidedLabel;
class FiguresTable;
class FiguresView;
class Plot;
class Stack;
class BenchView;
class ComparedView;
class FitView;
class LiveView;
class SelfcheckPanel;
class SweepView;
class TestList;
class TestView;

class MeasurePage : public QWidget {
    Q_OBJECT
public:
    struct Services {
        library::Store& store;
        LineUp& line_up;
        BenchQueue& bench;
        BenchConditions& conditions;
        SweepJob& sweep;
        FitJob& fit;
        CompareJob& comparing;
        LiveTap& live;
        Jobs& jobs;
        Navigation& navigation;
    };
    explicit MeasurePage(const Services& services, QWidget* parent = nullptr);

    /// Empty: the overview.
    void showTest(const QString& test);
    SweepView* sweepView() const { return m_sweep; } ///< once it has been looked at
    Plot* responsePlot() const { return m_plots.front().second; }
    void setThemeColours();

signals:
    void told(const QString& text); ///< where it was saved, or why it was not

protected:
    void showEvent(QShowEvent* event) override;

private:
    QWidget* makeTop();
    QWidget* makeBench();
    QWidget* makePlots();
    void changed();
    void reload();
    void showProgress();
    QString takenText(const MeasuredCandidate& candidate) const;
    void fillPlots();
    void fillTable();
    void showChosen();
    void putChosen();

    const Services m_services;
    bool m_outdated = true; // something has changed while this was hidden
    std::vector<MeasuredCandidate> m_candidates;
    ElidedLabel* m_conditions = nullptr;
    QPushButton* m_measure = nullptr;
    QPushButton* m_cancel = nullptr;
    QVBoxLayout* m_bench_list = nullptr;
    QWidget* m_content = nullptr;
    QWidget* m_empty = nullptr;
    std::vector<std::pair<const bench::PlotInfo*, Plot*>> m_plots; // of the overview, the response first
    FiguresTable* m_table = nullptr;                               // of the overview
    TestList* m_tests = nullptr;
    Stack* m_views = nullptr; // the overview, and the test in sight
    TestView* m_view = nullptr;
    FiguresView* m_figures = nullptr;
    SweepView* m_sweep = nullptr;
    FitView* m_fit = nullptr;
    ComparedView* m_compared = nullptr;
    LiveView* m_live = nullptr;
    BenchView* m_checked = nullptr;
    SelfcheckPanel* m_selfcheck = nullptr;
};

} // namespace hr::app

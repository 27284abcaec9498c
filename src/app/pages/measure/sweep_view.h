// SPDX-License-Identifier: GPL-3.0-or-later
//
// Sweep: one parameter of a candidate through its range, at a few settings of another where that is asked for:
// what was measured against what was set, and the line that an honest label would give.
#pragma once

#include "models/line_up.h"
#include "models/sweep_job.h"
#include "services/bench_conditions.h"
#include "widgets/plot.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QPushButton;
class QSpinBox;
class QTableWidget;
class QVBoxLayout;

namespace hr::app {

class SweepView : public QWidget {
    Q_OBJECT
public:
    struct Services {
        LineUp& line_up;
        SweepJob& job;
        library::Store& store;
        const BenchConditions& conditions;
    };
    explicit SweepView(const Services& services, QWidget* parent = nullptr);

    /// Those that can be swept now.
    void fillCandidates();
    /// This one, of the candidate that is chosen.
    void sweep(const QString& parameter);
    Plot* plot() const { return m_plot; }

private:
    void makeChoices(QVBoxLayout& column);
    void fillParameters();
    void fillBeside();
    void guessFigure();
    void remember();
    void start();
    void refresh();
    const Contender* contender() const;
    std::optional<std::size_t> parameter() const;
    bench::Promise promise() const;
    QString meaningKey() const;

    std::vector<Curve> curves() const;
    void fillTable();
    QString stateText() const;

    const Services m_services;
    QComboBox* m_candidate = nullptr;
    QComboBox* m_parameter = nullptr;
    QComboBox* m_figure = nullptr;
    QSpinBox* m_steps = nullptr;
    QComboBox* m_beside = nullptr;
    QSpinBox* m_beside_steps = nullptr;
    QPushButton* m_start = nullptr;
    QLabel* m_meaning = nullptr;
    QLabel* m_state = nullptr;
    QLabel* m_nothing = nullptr; // in place of the plot, until there is one
    QVBoxLayout* m_plot_place = nullptr;
    Plot* m_plot = nullptr;
    QTableWidget* m_table = nullptr;

    // Of what is shown:
    int m_mark = 1;
    std::size_t m_wanted = 0; // points
    QString m_name, m_set_unit, m_figure_unit, m_beside_name, m_beside_unit;
    int m_digits = 2;
};

} // namespace hr::app

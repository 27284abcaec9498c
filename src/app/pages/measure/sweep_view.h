// SPDX-License-Identifier: GPL-3.0-or-later
//
// Sweep: one parameter of a candidate through its range, what was measured against what was set, and the line
// that an honest label would give.
#pragma once

#include "models/line_up.h"
#include "models/sweep_job.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QPushButton;
class QSpinBox;
class QTableWidget;
class QVBoxLayout;

namespace hr::app {

class Plot;

class SweepView : public QWidget {
    Q_OBJECT
public:
    SweepView(LineUp& line_up, SweepJob& job, library::Store& store, QWidget* parent = nullptr);

    /// Those that can be swept now.
    void fillCandidates();
    /// This one, of the candidate that is chosen.
    void sweep(const QString& parameter);
    Plot* plot() const { return m_plot; }

private:
    void fillParameters();
    void guessFigure();
    void remember();
    void start();
    void refresh();
    const Contender* contender() const;
    std::optional<std::size_t> parameter() const;
    bench::Promise promise() const;
    QString meaningKey() const;

    LineUp& m_line_up;
    SweepJob& m_job;
    library::Store& m_store;
    QComboBox* m_candidate = nullptr;
    QComboBox* m_parameter = nullptr;
    QComboBox* m_figure = nullptr;
    QSpinBox* m_steps = nullptr;
    QPushButton* m_start = nullptr;
    QLabel* m_meaning = nullptr;
    QVBoxLayout* m_plot_place = nullptr;
    Plot* m_plot = nullptr;
    QTableWidget* m_table = nullptr;

    // Of what is shown:
    int m_mark = 1;
    QString m_name, m_set_unit, m_figure_unit;
    int m_digits = 2;
};

} // namespace hr::app

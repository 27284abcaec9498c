// SPDX-License-Identifier: GPL-3.0-or-later
//
// "Set B so that it behaves like A": which two, which of B's parameters may move, what is to be alike; and how
// close it came.
#pragma once

#include "models/fit_job.h"
#include "services/bench_conditions.h"

#include <QWidget>
#include <set>
#include <string>

class QComboBox;
class QLabel;
class QListWidget;
class QPushButton;
class QTableWidget;

namespace hr::app {

class FitView : public QWidget {
    Q_OBJECT
public:
    FitView(LineUp& line_up, FitJob& job, const BenchConditions& conditions, QWidget* parent = nullptr);

    /// Those that there are now.
    void fillCandidates();

private:
    void fillParameters();
    void tickTests(const std::set<std::string>& keys);
    void refresh();
    bench::FitOrder order() const;
    void start();
    ContenderId like() const;
    ContenderId set() const;

    LineUp& m_line_up;
    FitJob& m_job;
    const BenchConditions& m_conditions;
    QComboBox* m_like = nullptr;
    QComboBox* m_set = nullptr;
    QListWidget* m_parameters = nullptr;
    QListWidget* m_tests = nullptr;
    QPushButton* m_start = nullptr;
    QLabel* m_words = nullptr;
    QTableWidget* m_result = nullptr;
    ContenderId m_filled_for = audition::no_contender; // whose parameters are listed
    ContenderId m_fitted = audition::no_contender;     // who is being set, or was last
};

} // namespace hr::app

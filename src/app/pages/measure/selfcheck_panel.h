// SPDX-License-Identifier: GPL-3.0-or-later
//
// Known answers first: the bench measures its own references on request and says how far off it was.
#pragma once

#include "bench/selfcheck.h"
#include "jobs/jobs.h"
#include "library/bench_check.h"

#include <QWidget>

class QLabel;
class QPushButton;

namespace hr::app {

class SelfcheckPanel : public QWidget {
    Q_OBJECT
public:
    SelfcheckPanel(Jobs& jobs, library::Store& store, QWidget* parent = nullptr);

    const std::optional<library::BenchCheck>& last() const { return m_last; }

signals:
    void checked();
    void askedForAll(); ///< each figure, known and measured

private:
    void startOrStop();
    void say();

    QLabel* m_result;
    QPushButton* m_button;
    Jobs& m_jobs;
    library::Store& m_store;
    std::optional<library::BenchCheck> m_last;
    Jobs::Id m_job = 0; // 0: none
};

} // namespace hr::app

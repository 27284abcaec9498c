// SPDX-License-Identifier: GPL-3.0-or-later
//
// "2 jobs" below the tabs while something is done in the background; opens the list of it, where each can be
// cancelled or put first.
#pragma once

#include "jobs/jobs.h"
#include "widgets/basics.h"

class QVBoxLayout;

namespace hr::app {

class JobsButton : public Button {
    Q_OBJECT
public:
    explicit JobsButton(Jobs& jobs, QWidget* parent = nullptr);

    /// What it opens; for tests and pictures.
    QWidget* list() const { return m_list; }

private:
    void refresh();
    void open();
    void fill();

    Jobs& m_jobs;
    QFrame* m_list;
    QVBoxLayout* m_rows;
    std::vector<Jobs::Id> m_shown; // the list is rebuilt only where its jobs are others
};

} // namespace hr::app

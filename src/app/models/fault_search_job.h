// SPDX-License-Identifier: GPL-3.0-or-later
//
// A search for the faulty one (library/fault_search.h) in the background, a step after the other.
#pragma once

#include "jobs/jobs.h"
#include "library/fault_search.h"
#include "library/store.h"

namespace hr::app {

class FaultSearchJob : public QObject {
    Q_OBJECT
public:
    FaultSearchJob(library::Store& store, Jobs& jobs, QObject* parent = nullptr);

    /// Of processors that work alone. Refuses fewer than two by notice().
    void start(const QStringList& ids);
    void stop();
    bool isRunning() const { return m_job != 0; }

signals:
    /// Before a step: how many are started together, and how many steps are left at most.
    void step(int together, int left);
    void finished(const hr::library::FaultSearch::Verdict& verdict);
    void cancelled(); ///< from the list of jobs: nothing was found out
    void notice(const QString& text);

private:
    void next();

    library::Store& m_store;
    Jobs& m_jobs;
    std::optional<library::FaultSearch> m_fault_search;
    Jobs::Id m_job = 0; // 0: none
};

} // namespace hr::app

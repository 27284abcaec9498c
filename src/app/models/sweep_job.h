// SPDX-License-Identifier: GPL-3.0-or-later
//
// A parameter swept in the background, point by point. One at a time: another takes its place.
#pragma once

#include "actions/notices.h"
#include "bench/sweep.h"
#include "jobs/jobs.h"
#include "models/contender.h"

namespace hr::app {

class SweepJob : public QObject {
    Q_OBJECT
public:
    SweepJob(Jobs& jobs, Notices& notices, QObject* parent = nullptr);

    void start(const Contender& contender, const bench::SweepOrder& order,
               const bench::Conditions& conditions = {});
    void cancel();
    bool isRunning() const { return m_job != 0; }
    const std::vector<bench::SweepPoint>& points() const { return m_points; }

signals:
    void changed(); ///< a point came, or it ended

private:
    Jobs& m_jobs;
    Notices& m_notices;
    Jobs::Id m_job = 0;
    quint64 m_turn = 0; // what is told of an earlier one is not of this
    std::vector<bench::SweepPoint> m_points;
};

} // namespace hr::app

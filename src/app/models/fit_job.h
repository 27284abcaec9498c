// SPDX-License-Identifier: GPL-3.0-or-later
//
// One candidate set so that it behaves like another, in the background. One at a time: another takes its place.
#pragma once

#include "actions/notices.h"
#include "bench/fit.h"
#include "jobs/jobs.h"
#include "models/line_up.h"

namespace hr::app {

class FitJob : public QObject {
    Q_OBJECT
public:
    FitJob(LineUp& line_up, Jobs& jobs, Notices& notices, QObject* parent = nullptr);

    /// `set` is left as it is: once something has been gained, a copy of it with what was found stands behind
    /// `like` in the line-up.
    void start(ContenderId like, ContenderId set, const bench::FitOrder& order,
               const bench::Conditions& conditions = {});
    void cancel(); ///< the best so far is taken
    bool isRunning() const { return m_job != 0; }
    /// The best so far; empty before anything was measured.
    const std::optional<bench::Fit>& best() const { return m_best; }

signals:
    void changed();

private:
    void finished(ContenderId like, ContenderId set, std::uint32_t generation,
                  const hosting::FaultOr<bench::Fit>& fit);

    LineUp& m_line_up;
    Jobs& m_jobs;
    Notices& m_notices;
    Jobs::Id m_job = 0;
    quint64 m_turn = 0; // what is told of an earlier one is not of this
    std::optional<bench::Fit> m_best;
};

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
//
// Candidates compared with one of them as they are set, on every demo source, in the background: whether they
// are the same, or how far apart (audition/compare_on.h). One comparison at a time.
#pragma once

#include "audition/compare_on.h"
#include "jobs/jobs.h"
#include "models/line_up.h"
#include "models/source_list.h"

namespace hr::app {

class CompareJob : public QObject {
    Q_OBJECT
public:
    CompareJob(LineUp& line_up, const SourceList& sources, library::Store& store, Jobs& jobs,
               QObject* parent = nullptr);

    /// All others that can be measured, with this one.
    void start(ContenderId with);
    void cancel();
    bool isRunning() const { return m_job != 0; }

    struct Outcome {
        audition::Comparison comparison;
        QString on;    ///< the source on which they are furthest apart
        QString fault; ///< why there is no comparison
    };
    ContenderId with() const { return m_with.id; } ///< of the last one that was started
    /// Null: not compared, or one of the two is set otherwise by now.
    const Outcome* outcomeOf(ContenderId id) const;

signals:
    void changed();

private:
    /// One as it was when it was compared.
    struct Compared {
        ContenderId id = audition::no_contender;
        hosting::Location location;
        std::vector<double> values;
    };
    static Compared asItIs(const Contender& contender);
    bool isStill(const Compared& compared) const;

    LineUp& m_line_up;
    const SourceList& m_sources;
    library::Store& m_store;
    Jobs& m_jobs;
    Jobs::Id m_job = 0;
    quint64 m_turn = 0; // what is told of an earlier one is not of this
    Compared m_with;
    std::vector<std::pair<Compared, Outcome>> m_outcomes;
};

} // namespace hr::app

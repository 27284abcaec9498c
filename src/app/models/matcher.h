// SPDX-License-Identifier: GPL-3.0-or-later
//
// Measures how loud each contender is, a moment after its last change. Of one contender only the latest request
// is ever answered: what went before it is cancelled.
#pragma once

#include "audition/matching.h"
#include "audition/scene.h"
#include "models/jobs.h"

#include <QTimer>
#include <map>
#include <set>

namespace hr::app {

struct MatchOrder {
    std::shared_ptr<const audition::Source> source;
    audition::Section loop;
    hosting::Location location; ///< an empty one is the untreated source
    std::vector<double> values;
};

struct MatchAnswer {
    hosting::FaultOr<audition::LoopLoudness> loudness;
};

class Matcher : public QObject {
    Q_OBJECT
public:
    explicit Matcher(Jobs& jobs, QObject* parent = nullptr);

    /// It has changed: due() follows.
    void schedule(audition::ContenderId id);
    void start(audition::ContenderId id, const MatchOrder& order);
    /// It has left: nothing about it follows.
    void forget(audition::ContenderId id);
    bool isBusy() const { return !m_due.empty() || !m_running.empty(); }

signals:
    /// To be started now, as it is now.
    void due(hr::audition::ContenderId id);
    void matched(hr::audition::ContenderId id, const hr::app::MatchAnswer& answer);

private:
    void startDue();

    Jobs& m_jobs;
    std::set<audition::ContenderId> m_due;
    std::map<audition::ContenderId, Jobs::Id> m_running;
    QTimer m_settle;
};

} // namespace hr::app

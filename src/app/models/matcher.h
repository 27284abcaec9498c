// SPDX-License-Identifier: GPL-3.0-or-later
//
// Measures how loud each contender is, a moment after its last change, and then how far it is from the
// reference. Of one contender only the latest request is ever answered: what went before it is cancelled.
#pragma once

#include "audition/difference.h"
#include "audition/scene.h"
#include "jobs/jobs.h"
#include "jobs/soon.h"

#include <map>
#include <set>

namespace hr::app {

struct MatchOrder {
    std::shared_ptr<const audition::Source> source;
    audition::Section loop;
    audition::Treatment treatment;
    audition::MatchRule rule;
};

struct DifferenceOrder {
    std::shared_ptr<const audition::Source> source;
    audition::Section loop;
    audition::Treatment reference, treatment;
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
    /// Its difference may be another one: differenceDue() follows.
    void scheduleDifference(audition::ContenderId id);
    void startDifference(audition::ContenderId id, const DifferenceOrder& order);
    /// It has left: nothing about it follows.
    void forget(audition::ContenderId id);
    bool isBusy() const { return !m_due.empty() || !m_matching.jobs.empty(); }

signals:
    /// To be started now, as it is now.
    void due(hr::audition::ContenderId id);
    void differenceDue(hr::audition::ContenderId id);
    void matched(hr::audition::ContenderId id, const hr::app::MatchAnswer& answer);
    /// Empty: there is none, or one of the two could not be run.
    void differenceFound(hr::audition::ContenderId id,
                         const std::optional<hr::audition::Difference>& difference);

private:
    struct Running {
        bool urgent; ///< before what nobody waits for
        std::map<audition::ContenderId, Jobs::Id> jobs;
    };
    void startDue();
    void begin(Running& running, audition::ContenderId id, std::function<void(const JobControl&)> work,
               std::function<void()> answered);
    void cancel(Running& running, audition::ContenderId id);

    Jobs& m_jobs;
    std::set<audition::ContenderId> m_due, m_difference_due;
    Running m_matching{true, {}};
    Running m_comparing{false, {}}; // beside what is heard, never before it
    Soon m_settle;
};

} // namespace hr::app

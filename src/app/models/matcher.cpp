// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/matcher.h"

#include <utility>

namespace hr::app {

namespace {

constexpr int settle_ms = 120;

} // namespace

Matcher::Matcher(Jobs& jobs, QObject* parent)
    : QObject(parent), m_jobs(jobs), m_settle(settle_ms, [this] { startDue(); })
{
}

void Matcher::schedule(audition::ContenderId id)
{
    forget(id);
    m_due.insert(id);
    m_settle.start();
}

void Matcher::scheduleDifference(audition::ContenderId id)
{
    cancel(m_comparing, id);
    m_difference_due.insert(id);
    m_settle.start();
}

void Matcher::forget(audition::ContenderId id)
{
    m_due.erase(id);
    m_difference_due.erase(id);
    cancel(m_matching, id);
    cancel(m_comparing, id);
}

void Matcher::cancel(Running& running, audition::ContenderId id)
{
    if (const auto found = running.jobs.find(id); found != running.jobs.end()) {
        const Jobs::Id job = found->second;
        running.jobs.erase(found);
        m_jobs.cancel(job);
    }
}

/// Loudness first: differences are not waited for.
void Matcher::startDue()
{
    for (const audition::ContenderId id : std::exchange(m_due, {}))
        emit due(id);
    for (const audition::ContenderId id : std::exchange(m_difference_due, {}))
        emit differenceDue(id);
}

void Matcher::begin(Running& running, audition::ContenderId id, std::function<void(const JobControl&)> work,
                    std::function<void()> answered)
{
    const auto this_job = std::make_shared<Jobs::Id>(0);
    JobOrder job;
    job.urgent = running.urgent;
    job.owner = this;
    job.work = std::move(work);
    job.finished = [id, this_job, &running, answered = std::move(answered)](JobEnd) {
        const auto found = running.jobs.find(id);
        if (found == running.jobs.end() || found->second != *this_job)
            return; // changed again meanwhile, or gone
        running.jobs.erase(found);
        answered();
    };
    *this_job = m_jobs.add(std::move(job));
    running.jobs[id] = *this_job;
}

void Matcher::start(audition::ContenderId id, const MatchOrder& order)
{
    const auto result = std::make_shared<hosting::FaultOr<audition::LoopLoudness>>();
    const auto work = [result, order](const JobControl& control) {
        *result =
            audition::measureLoop(*order.source, order.loop, order.treatment, order.rule, control.cancel());
    };
    begin(m_matching, id, work, [this, id, result] { emit matched(id, {*result}); });
}

void Matcher::startDifference(audition::ContenderId id, const DifferenceOrder& order)
{
    const auto result = std::make_shared<std::optional<audition::Difference>>();
    const auto work = [result, order](const JobControl& control) {
        *result = audition::differenceOf(*order.source, order.loop, order.reference, order.treatment,
                                         control.cancel())
                      .value_or(std::nullopt);
    };
    begin(m_comparing, id, work, [this, id, result] { emit differenceFound(id, *result); });
}

} // namespace hr::app

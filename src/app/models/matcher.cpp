// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/matcher.h"

#include <utility>

namespace hr::app {

namespace {

constexpr int settle_ms = 120;

} // namespace

Matcher::Matcher(Jobs& jobs, QObject* parent) : QObject(parent), m_jobs(jobs)
{
    m_settle.setSingleShot(true);
    m_settle.setInterval(settle_ms);
    connect(&m_settle, &QTimer::timeout, this, &Matcher::startDue);
}

void Matcher::schedule(audition::ContenderId id)
{
    forget(id);
    m_due.insert(id);
    m_settle.start();
}

void Matcher::forget(audition::ContenderId id)
{
    m_due.erase(id);
    if (const auto running = m_running.find(id); running != m_running.end()) {
        const Jobs::Id job = running->second;
        m_running.erase(running);
        m_jobs.cancel(job);
    }
}

void Matcher::startDue()
{
    for (const audition::ContenderId id : std::exchange(m_due, {}))
        emit due(id);
}

void Matcher::start(audition::ContenderId id, const MatchOrder& order)
{
    const auto result = std::make_shared<hosting::FaultOr<audition::LoopLoudness>>();
    const auto this_job = std::make_shared<Jobs::Id>(0);
    JobOrder job;
    job.urgent = true;
    job.owner = this;
    job.work = [result, order](const JobControl& control) {
        *result = order.location.id.empty() ? audition::measureLoop(*order.source, order.loop, control.cancel())
                                            : audition::measureLoop(*order.source, order.loop, order.location,
                                                                    order.values, control.cancel());
    };
    job.finished = [this, id, result, this_job](JobEnd) {
        const auto running = m_running.find(id);
        if (running == m_running.end() || running->second != *this_job)
            return; // changed again meanwhile, or gone
        m_running.erase(running);
        emit matched(id, {*result});
    };
    *this_job = m_jobs.add(std::move(job));
    m_running[id] = *this_job;
}

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/fault_search_job.h"

namespace hr::app {

FaultSearchJob::FaultSearchJob(library::Store& store, Jobs& jobs, QObject* parent)
    : QObject(parent), m_store(store), m_jobs(jobs)
{
}

void FaultSearchJob::start(const QStringList& ids)
{
    if (ids.size() < 2)
        return emit notice(tr("A search needs at least two processors that work alone."));
    m_fault_search.emplace(ids);
    next();
}

void FaultSearchJob::stop()
{
    m_fault_search.reset();
    if (m_job != 0)
        m_jobs.cancel(m_job);
}

void FaultSearchJob::next()
{
    const auto set = m_fault_search->next();
    if (!set) {
        m_job = 0;
        return emit finished(m_fault_search->verdict());
    }
    std::vector<hosting::Location> locations;
    for (const QString& id : *set)
        if (auto location = m_store.catalogue.location(id))
            locations.push_back(std::move(*location));
    emit step(static_cast<int>(set->size()), m_fault_search->stepsLeft());
    const auto failed = std::make_shared<bool>(false);
    JobOrder job;
    job.title = tr("Find the faulty one: start %1 together").arg(set->size());
    job.line = QStringLiteral("scan");
    job.owner = this;
    job.work = [locations, failed](const JobControl& control) {
        const auto fault = library::failureTogether(locations, control.cancel());
        *failed = fault && !isCancelled(*fault);
    };
    job.finished = [this, failed](JobEnd end) {
        m_job = 0;
        if (!m_fault_search)
            return;                     // stopped
        if (end == JobEnd::Cancelled) { // a set that was not tried to its end says nothing
            m_fault_search.reset();
            return emit cancelled();
        }
        m_fault_search->tell(*failed);
        next();
    };
    m_job = m_jobs.add(std::move(job));
}

} // namespace hr::app

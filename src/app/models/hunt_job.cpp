// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/hunt_job.h"

namespace hr::app {

HuntJob::HuntJob(library::Store& store, Jobs& jobs, QObject* parent)
    : QObject(parent), m_store(store), m_jobs(jobs)
{
}

void HuntJob::start(const QStringList& ids)
{
    if (ids.size() < 2)
        return emit notice(tr("A hunt needs at least two processors that work alone."));
    m_hunt.emplace(ids);
    next();
}

void HuntJob::stop()
{
    m_hunt.reset();
    if (m_job != 0)
        m_jobs.cancel(m_job);
}

void HuntJob::next()
{
    const auto set = m_hunt->next();
    if (!set) {
        m_job = 0;
        return emit finished(m_hunt->verdict());
    }
    std::vector<hosting::Location> locations;
    for (const QString& id : *set)
        if (auto location = m_store.catalogue.location(id))
            locations.push_back(std::move(*location));
    emit step(static_cast<int>(set->size()), m_hunt->stepsLeft());
    const auto failed = std::make_shared<bool>(false);
    JobOrder job;
    job.title = tr("Hunt: start %1 together").arg(set->size());
    job.line = QStringLiteral("scan");
    job.owner = this;
    job.work = [locations, failed](const JobControl&) {
        *failed = library::failureTogether(locations).has_value();
    };
    job.finished = [this, failed](bool) {
        m_job = 0;
        if (!m_hunt)
            return; // stopped
        m_hunt->tell(*failed);
        next();
    };
    m_job = m_jobs.add(std::move(job));
}

} // namespace hr::app

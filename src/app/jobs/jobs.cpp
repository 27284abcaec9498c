// SPDX-License-Identifier: GPL-3.0-or-later
#include "jobs/jobs.h"

#include "hosting/thread_priority.h"

#include <QElapsedTimer>
#include <QThread>
#include <algorithm>

namespace hr::app {

Jobs::Jobs(QObject* parent) : QObject(parent)
{
    for (QThreadPool* pool : {&m_urgent, &m_patient})
        pool->setMaxThreadCount(std::max(1, QThread::idealThreadCount()));
}

Jobs::~Jobs()
{
    (void)endAll(std::chrono::milliseconds(-1));
}

bool Jobs::endAll(std::chrono::milliseconds patience)
{
    m_ended = true;
    for (Job& job : m_jobs)
        job.stop.request_stop();
    m_jobs.clear();
    QElapsedTimer clock;
    clock.start();
    const auto left = [&] {
        return patience.count() < 0 ? -1
                                    : std::max<int>(0, static_cast<int>(patience.count() - clock.elapsed()));
    };
    const bool urgent_rest = m_urgent.waitForDone(left());
    return m_patient.waitForDone(left()) && urgent_rest;
}

Jobs::Id Jobs::add(JobOrder order)
{
    if (m_ended)
        return 0;
    if (order.supersedes) {
        std::vector<Id> older;
        for (const Job& job : m_jobs)
            if (job.order.line == order.line)
                older.push_back(job.id);
        for (const Id id : older)
            cancel(id);
    }
    Job job{m_next++, std::move(order), {}, {}};
    job.owner = job.order.owner;
    const Id id = job.id;
    auto at = m_jobs.end();
    if (job.order.urgent)
        at = std::ranges::find_if(m_jobs, [](const Job& j) { return !j.running && !j.order.urgent; });
    else if (job.order.awaited)
        at = std::ranges::find_if(m_jobs, [&job](const Job& j) {
            return !j.running && !j.order.urgent && !j.order.awaited && j.order.line == job.order.line;
        });
    m_jobs.insert(at, std::move(job));
    startNext();
    emit changed();
    return id;
}

Jobs::Job* Jobs::find(Id id)
{
    const auto found = std::ranges::find(m_jobs, id, &Job::id);
    return found == m_jobs.end() ? nullptr : &*found;
}

void Jobs::cancel(Id id)
{
    Job* job = find(id);
    if (!job)
        return;
    job->stop.request_stop();
    if (!job->running)
        finish(id);
}

void Jobs::putFirst(Id id)
{
    const auto found = std::ranges::find(m_jobs, id, &Job::id);
    if (found == m_jobs.end() || found->running)
        return;
    const auto first = std::ranges::find_if(m_jobs, [](const Job& j) { return !j.running; });
    std::rotate(first, found, found + 1);
    emit changed();
}

std::vector<Jobs::Listed> Jobs::list() const
{
    std::vector<Listed> listed;
    for (const bool running : {true, false})
        for (const Job& job : m_jobs)
            if (job.running == running && !job.order.title.isEmpty())
                listed.push_back({job.id, job.order.title, running, job.progress});
    return listed;
}

bool Jobs::lineIsBusy(const QString& line) const
{
    return !line.isEmpty() &&
           std::ranges::any_of(m_jobs, [&](const Job& j) { return j.running && j.order.line == line; });
}

void Jobs::startNext()
{
    // What is urgent, such as matching what is heard, finds a thread even while all cores are at work.
    const auto patient =
        std::ranges::count_if(m_jobs, [](const Job& j) { return j.running && !j.order.urgent; });
    auto room = m_patient.maxThreadCount() - patient;
    for (Job& job : m_jobs) {
        if (job.running || lineIsBusy(job.order.line) || (!job.order.urgent && room <= 0))
            continue;
        start(job);
        room -= job.order.urgent ? 0 : 1;
    }
}

void Jobs::start(Job& job)
{
    job.running = true;
    const Id id = job.id;
    const JobControl control(job.stop.get_token(), [this, id](double progress) {
        QMetaObject::invokeMethod(this, [this, id, progress] {
            Job* reporting = find(id);
            if (!reporting)
                return;
            reporting->progress = progress;
            if (reporting->owner && reporting->order.progressed)
                reporting->order.progressed(progress);
            emit changed();
        });
    });
    QThreadPool& pool = job.order.urgent ? m_urgent : m_patient;
    pool.start([this, id, control, urgent = job.order.urgent, work = job.order.work] {
        if (!urgent)
            hosting::setPriority(hosting::Priority::Background);
        work(control);
        QMetaObject::invokeMethod(this, [this, id] { finish(id); });
    });
}

void Jobs::finish(Id id)
{
    const auto found = std::ranges::find(m_jobs, id, &Job::id);
    if (found == m_jobs.end())
        return;
    const Job job = std::move(*found);
    m_jobs.erase(found);
    startNext();
    if (job.owner && job.order.finished)
        job.order.finished(job.stop.stop_requested() ? JobEnd::Cancelled : JobEnd::Done);
    emit changed();
}

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/jobs.h"

#include "hosting/pace.h"

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
    for (Job& job : m_jobs)
        job.cancelled->store(true);
    m_jobs.clear();
    m_urgent.waitForDone();
    m_patient.waitForDone();
}

Jobs::Number Jobs::add(JobOrder order)
{
    Job job{m_next++, std::move(order), {}, std::make_shared<std::atomic<bool>>(false)};
    job.owner = job.order.owner;
    const Number number = job.number;
    auto at = m_jobs.end();
    if (job.order.urgent)
        at = std::ranges::find_if(m_jobs, [](const Job& j) { return !j.running && !j.order.urgent; });
    m_jobs.insert(at, std::move(job));
    startNext();
    emit changed();
    return number;
}

Jobs::Job* Jobs::find(Number number)
{
    const auto found = std::ranges::find(m_jobs, number, &Job::number);
    return found == m_jobs.end() ? nullptr : &*found;
}

void Jobs::cancel(Number number)
{
    Job* job = find(number);
    if (!job)
        return;
    job->cancelled->store(true);
    if (!job->running)
        finish(number, false);
}

void Jobs::putFirst(Number number)
{
    const auto found = std::ranges::find(m_jobs, number, &Job::number);
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
                listed.push_back({job.number, job.order.title, running, job.progress});
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
    const Number number = job.number;
    const JobControl control(job.cancelled, [this, number](double progress) {
        QMetaObject::invokeMethod(this, [this, number, progress] {
            Job* reporting = find(number);
            if (!reporting)
                return;
            reporting->progress = progress;
            if (reporting->owner && reporting->order.progressed)
                reporting->order.progressed(progress);
            emit changed();
        });
    });
    QThreadPool& pool = job.order.urgent ? m_urgent : m_patient;
    pool.start([this, number, control, urgent = job.order.urgent, work = job.order.work] {
        if (!urgent)
            hosting::keepPace(hosting::Pace::Background);
        work(control);
        QMetaObject::invokeMethod(this, [this, number] { finish(number, true); });
    });
}

void Jobs::finish(Number number, bool ran)
{
    const auto found = std::ranges::find(m_jobs, number, &Job::number);
    if (found == m_jobs.end())
        return;
    const Job job = std::move(*found);
    m_jobs.erase(found);
    startNext();
    if (job.owner && job.order.finished)
        job.order.finished(ran);
    emit changed();
}

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
#include "frame/first_start.h"

#include "pages/find/find_page.h"

namespace hr::app {

FirstStart::FirstStart(Desk& desk, MainWindow& window) : m_desk(desk), m_window(window)
{
    connect(&m_desk.scan, &ScanJob::finished, this, &FirstStart::scanned);
}

void FirstStart::run()
{
    m_desk.scan.start(ScanJob::StartedBy::Nobody); // what has not changed costs nothing
}

void FirstStart::run(const QString& title, const Prepare& prepare, const std::function<void()>& prepared)
{
    const auto result = std::make_shared<Result<void>>();
    JobOrder job;
    job.title = title;
    job.owner = this;
    job.work = [result, prepare](const JobControl& control) {
        *result = prepare([&control](double done) { control.report(done); }, control.cancel());
    };
    job.progressed = [this](double) { takeFirstSource(); };
    job.finished = [this, result, prepared](JobEnd end) {
        (void)m_desk.notices.succeeded(*result);
        takeFirstSource();
        if (end == JobEnd::Done && *result)
            prepared();
    };
    m_desk.jobs.add(std::move(job));
    run();
}

/// As soon as there is one.
void FirstStart::takeFirstSource()
{
    m_desk.sources.reload();
    if (const QString first = m_desk.sources.first(); !m_desk.transport.hasSource() && !first.isEmpty())
        m_desk.transport.load(first);
}

/// With a fresh catalogue, what is in sight is measured without being told to.
void FirstStart::scanned()
{
    if (auto measured = m_desk.store->runs.measured(); measured && measured->isEmpty())
        m_window.findPage()->measureInSight();
}

} // namespace hr::app

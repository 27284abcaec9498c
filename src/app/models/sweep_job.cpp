// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/sweep_job.h"

namespace hr::app {

SweepJob::SweepJob(Jobs& jobs, Notices& notices, QObject* parent)
    : QObject(parent), m_jobs(jobs), m_notices(notices)
{
}

void SweepJob::start(const Contender& contender, const bench::SweepOrder& order,
                     const bench::Conditions& conditions)
{
    cancel();
    m_points.clear();
    const quint64 turn = ++m_turn;
    const auto fault = std::make_shared<std::optional<hosting::Fault>>();
    JobOrder job;
    job.title = tr("Sweep %1").arg(contender.title);
    job.line = QStringLiteral("bench");
    job.owner = this;
    job.work = [this, turn, order, conditions, fault, location = contender.location, info = contender.described,
                values = contender.values](const JobControl& in_hand) {
        bench::MeasureControl control;
        control.cancel = in_hand.cancel();
        control.progress = [&in_hand](const std::string&, double done) { in_hand.report(done); };
        const auto swept = bench::sweep(location, info, values, order, conditions, control,
                                        [&](const bench::SweepPoint& point) {
                                            QMetaObject::invokeMethod(this, [this, turn, point] {
                                                if (turn != m_turn)
                                                    return;
                                                m_points.push_back(point);
                                                emit changed();
                                            });
                                        });
        if (!swept)
            *fault = swept.error();
    };
    job.finished = [this, turn, fault, title = contender.title](JobEnd end) {
        if (turn != m_turn)
            return;
        m_job = 0;
        if (end == JobEnd::Done && *fault)
            m_notices.say(tr("%1 %2: the sweep ends there.")
                              .arg(title, QString::fromStdString(hosting::sentence(**fault))));
        emit changed();
    };
    m_job = m_jobs.add(std::move(job));
    emit changed();
}

void SweepJob::cancel()
{
    if (m_job != 0)
        m_jobs.cancel(m_job);
    m_job = 0;
    ++m_turn;
    emit changed();
}

} // namespace hr::app

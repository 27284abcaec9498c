// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/bench_queue.h"

namespace hr::app {

BenchQueue::BenchQueue(library::Store& store, Jobs& jobs, QObject* parent)
    : QObject(parent), m_store(store), m_jobs(jobs)
{
}

void BenchQueue::measure(const BenchOrder& order)
{
    const QString id = QString::fromStdString(order.info.id);
    if (m_ordered.contains(id))
        return; // it is in the queue already
    const auto measurement = std::make_shared<bench::Measurement>();
    JobOrder job;
    job.title = tr("Measure %1").arg(QString::fromStdString(order.info.name));
    job.line = QStringLiteral("bench"); // one at a time: a core is left to what is being heard
    job.owner = this;
    job.work = [order, measurement](const JobControl& in_hand) {
        std::vector<std::string> keys;
        for (const QString& key : order.tests)
            keys.push_back(key.toStdString());
        bench::MeasureControl control;
        control.cancel = in_hand.cancelled();
        control.progress = [&in_hand](const std::string&, double done) { in_hand.report(done); };
        *measurement =
            bench::measure(order.location, order.info, order.values, *bench::testsNamed(keys), {}, control);
    };
    job.progressed = [this, id](double done) {
        m_ordered[id].progress = done;
        emit changed();
    };
    job.finished = [this, id, measurement](bool ran) {
        m_ordered.remove(id);
        if (ran)
            finished(id, *measurement);
        else
            emit cancelled(id);
        emit changed();
    };
    m_ordered.insert(id, {});
    m_ordered[id].job = m_jobs.add(std::move(job));
    emit changed();
}

void BenchQueue::finished(const QString& id, const bench::Measurement& measurement)
{
    if (auto stored = m_store.readings.store(measurement); !stored)
        emit notice(QString::fromStdString(stored.error().text));
    if (measurement.failure)
        emit notice(tr("%1 %2.").arg(QString::fromStdString(measurement.processor.name),
                                     QString::fromStdString(hosting::sentence(measurement.failure->fault))));
    emit measured(id);
}

void BenchQueue::cancel()
{
    const auto ordered = m_ordered.values(); // those that wait are taken out while this goes on
    for (const Ordered& one : ordered)
        m_jobs.cancel(one.job);
}

std::optional<double> BenchQueue::progressOf(const QString& id) const
{
    const auto found = m_ordered.constFind(id);
    return found == m_ordered.cend() ? std::nullopt : std::optional(found->progress);
}

} // namespace hr::app

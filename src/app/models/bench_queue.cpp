// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/bench_queue.h"

#include <QThread>

namespace hr::app {

BenchQueue::BenchQueue(library::Store& store, QObject* parent)
    : QObject(parent), m_store(store), m_cancel(std::make_shared<std::atomic<bool>>(false))
{
    // One core is left to what is being heard.
    m_pool.setMaxThreadCount(std::max(1, QThread::idealThreadCount() - 1));
}

BenchQueue::~BenchQueue()
{
    m_cancel->store(true);
    m_pool.clear();
    m_pool.waitForDone();
}

void BenchQueue::measure(const BenchOrder& order)
{
    const QString id = QString::fromStdString(order.info.id);
    if (m_progress.contains(id))
        return; // it is in the queue already
    m_progress.insert(id, -1);
    ++m_waiting;
    emit changed();
    m_pool.start([this, id, order, cancel = m_cancel] {
        std::vector<std::string> keys;
        for (const QString& key : order.tests)
            keys.push_back(key.toStdString());
        bench::MeasureControl control;
        control.cancel = cancel.get();
        control.progress = [this, id](const std::string&, double done) {
            QMetaObject::invokeMethod(this, [this, id, done] {
                if (m_progress.contains(id))
                    m_progress[id] = done;
                emit changed();
            });
        };
        const auto measurement =
            bench::measure(order.location, order.info, order.values, *bench::testsNamed(keys), {}, control);
        QMetaObject::invokeMethod(this, [this, id, measurement] { finished(id, measurement); });
    });
}

void BenchQueue::finished(const QString& id, const bench::Measurement& measurement)
{
    m_progress.remove(id);
    --m_waiting;
    if (auto stored = m_store.readings.store(measurement); !stored)
        emit notice(QString::fromStdString(stored.error().text));
    if (measurement.failure)
        emit notice(tr("%1 %2.").arg(QString::fromStdString(measurement.processor.name),
                                     QString::fromStdString(hosting::sentence(measurement.failure->fault))));
    emit measured(id);
    emit changed();
}

void BenchQueue::cancel()
{
    // Those under way stop after the test they are in; those waiting find the mark and stop at once.
    m_cancel->store(true);
    m_cancel = std::make_shared<std::atomic<bool>>(false);
    emit changed();
}

std::optional<double> BenchQueue::progressOf(const QString& id) const
{
    const auto found = m_progress.constFind(id);
    return found == m_progress.cend() ? std::nullopt : std::optional(*found);
}

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/bench_queue.h"

#include "processors/settings.h"

namespace hr::app {

namespace {

constexpr auto queue_setting = "background_queue";

QString orderKey(const QString& set_up, const bench::Conditions& conditions)
{
    return set_up + QLatin1Char(' ') + QString::fromStdString(conditions.identity());
}

} // namespace

BenchQueue::BenchQueue(library::Store& store, Jobs& jobs, Notices& notices, QObject* parent)
    : QObject(parent), m_store(store), m_jobs(jobs), m_notices(notices)
{
}

library::SetUp BenchQueue::setUpOf(const Contender& contender) const
{
    return library::setUpOf(m_store.catalogue, contender.location, contender.described, contender.values);
}

void BenchQueue::measure(const Contender& contender, const QStringList& tests,
                         const bench::Conditions& conditions)
{
    add({contender.location, contender.described, contender.values, tests, setUpOf(contender), conditions},
        Turn::First);
}

void BenchQueue::add(const Order& order, Turn turn)
{
    const QString of = orderKey(order.set_up.key(), order.conditions);
    const QString key = of + QLatin1Char(' ') + order.tests.join(QLatin1Char(','));
    if (m_ordered.contains(key)) { // it is in the queue already
        if (turn == Turn::First)
            m_jobs.putFirst(m_ordered[key].job);
        return;
    }
    const auto measurement = std::make_shared<bench::Measurement>();
    JobOrder job;
    job.title = tr("Measure %1").arg(QString::fromStdString(order.info.name));
    job.line = QStringLiteral("bench"); // one at a time: a core is left to what is being heard
    job.owner = this;
    job.work = [order, measurement](const JobControl& in_hand) {
        std::vector<std::string> keys =
            order.tests.isEmpty() ? bench::quickTests() : std::vector<std::string>();
        for (const QString& test : order.tests)
            keys.push_back(test.toStdString());
        bench::MeasureControl control;
        control.cancel = in_hand.cancel();
        control.progress = [&in_hand](const std::string&, double done) { in_hand.report(done); };
        *measurement = bench::measure(order.location, order.info, order.values, *bench::testsNamed(keys),
                                      order.conditions, control);
    };
    job.progressed = [this, key](double done) {
        m_ordered[key].progress = done;
        emit changed();
    };
    job.finished = [this, order, key, measurement](JobEnd end) {
        m_ordered.remove(key);
        if (end == JobEnd::Done)
            finished(order, *measurement);
        QStringList left = remembered();
        if (left.removeAll(order.set_up.processor) > 0)
            remember(left);
        emit changed();
    };
    m_ordered.insert(key, {of});
    job.awaited = turn == Turn::First;
    m_ordered[key].job = m_jobs.add(std::move(job));
    emit changed();
}

void BenchQueue::finished(const Order& order, const bench::Measurement& measurement)
{
    (void)m_notices.succeeded(m_store.runs.store(order.set_up, measurement));
    (void)m_notices.succeeded(m_store.catalogue.noteRefusals(order.set_up.processor, measurement.refusals));
    if (measurement.failure)
        m_notices.say(tr("%1 %2.").arg(QString::fromStdString(measurement.processor.name),
                                       QString::fromStdString(hosting::sentence(measurement.failure->fault))));
}

void BenchQueue::measureInBackground(const QStringList& processors)
{
    QStringList queue = remembered();
    for (const QString& id : processors) {
        auto entry = m_store.catalogue.entry(id);
        auto info = m_store.catalogue.info(id);
        auto location = m_store.catalogue.location(id);
        if (!entry || !info || !location || entry->state == library::State::Quarantined ||
            (m_offered && !m_offered(id)))
            continue;
        if (!queue.contains(id))
            queue << id;
        const auto values = processors::defaultValues(*info);
        add({*location, *info, values, {}, library::setUpOf(m_store.catalogue, *location, *info, values)},
            Turn::Last);
    }
    remember(queue);
}

void BenchQueue::goOn()
{
    measureInBackground(remembered());
}

QStringList BenchQueue::remembered() const
{
    return m_store.setting(QLatin1String(queue_setting)).split(QLatin1Char('\n'), Qt::SkipEmptyParts);
}

void BenchQueue::remember(const QStringList& processors)
{
    (void)m_notices.succeeded(
        m_store.setSetting(QLatin1String(queue_setting), processors.join(QLatin1Char('\n'))));
}

void BenchQueue::cancel()
{
    const auto ordered = m_ordered.values(); // those that wait are taken out while this goes on
    for (const Ordered& one : ordered)
        m_jobs.cancel(one.job);
}

std::optional<double> BenchQueue::progressOf(const QString& set_up, const bench::Conditions& conditions) const
{
    const QString of = orderKey(set_up, conditions);
    std::optional<double> furthest;
    for (const Ordered& one : m_ordered)
        if (one.of == of)
            furthest = std::max(furthest.value_or(one.progress), one.progress);
    return furthest;
}

} // namespace hr::app

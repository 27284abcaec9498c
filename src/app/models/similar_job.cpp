// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/similar_job.h"

#include "audition/compare_on.h"

namespace hr::app {

namespace {

using Sounds = std::vector<signal::AudioBuffer>;

SimilarJob::Outcome outcomeOf(const hosting::FaultOr<Sounds>& first, const hosting::FaultOr<Sounds>& second,
                              const std::stop_token& cancel)
{
    SimilarJob::Outcome outcome;
    if (!first || !second) {
        outcome.fault = first ? QString::fromStdString(hosting::sentence(second.error()))
                              : SimilarJob::tr("the one compared with %1")
                                    .arg(QString::fromStdString(hosting::sentence(first.error())));
        return outcome;
    }
    const auto most = audition::mostApart(*first, *second, cancel).comparison;
    outcome.same = most.same;
    outcome.residual_db = most.residual_db;
    return outcome;
}

} // namespace

SimilarJob::SimilarJob(library::Store& store, Jobs& jobs, QObject* parent)
    : QObject(parent), m_store(store), m_jobs(jobs)
{
}

void SimilarJob::compare(const QString& id, const QStringList& others)
{
    auto location = m_store.catalogue.location(id);
    if (!location)
        return;
    std::vector<std::pair<QString, hosting::Location>> places;
    for (const QString& other : others)
        if (auto place = m_store.catalogue.location(other))
            places.emplace_back(other, std::move(*place));
    JobOrder job;
    job.title = tr("Compare %n processors", nullptr, static_cast<int>(places.size()));
    job.line = QStringLiteral("bench");
    job.owner = this;
    job.work = [this, id, location = *location, places,
                folder = m_store.database().directory() / "sources"](const JobControl& control) {
        const auto sounds = audition::soundsIn(folder);
        const auto first = audition::heardOn(sounds, location, {}, control.cancel());
        for (std::size_t i = 0; i < places.size() && !control.cancel().stop_requested(); ++i) {
            control.report(static_cast<double>(i) / static_cast<double>(places.size()));
            const auto second = audition::heardOn(sounds, places[i].second, {}, control.cancel());
            const auto outcome = outcomeOf(first, second, control.cancel());
            if (control.cancel().stop_requested())
                break; // cut short, it would say something else
            QMetaObject::invokeMethod(
                this, [this, id, other = places[i].first, outcome] { emit compared(id, other, outcome); });
        }
    };
    m_jobs.add(std::move(job));
}

} // namespace hr::app

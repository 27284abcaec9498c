// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/kin_job.h"

#include "audition/compare.h"
#include "bench/programme.h"
#include "processors/settings.h"
#include "signal/audio_file.h"
#include "signal/generators.h"

namespace hr::app {

namespace {

namespace fs = std::filesystem;
using Sounds = std::vector<signal::AudioBuffer>;

/// The demo's where they are there; else a made-up programme.
Sounds soundsIn(const fs::path& folder)
{
    Sounds sounds;
    std::error_code failed;
    for (const auto& file : fs::directory_iterator(folder, failed))
        if (file.path().extension() == ".wav")
            if (auto sound = signal::readAudioFile(file.path()); sound && sound->channels() <= 2)
                sounds.push_back(std::move(*sound));
    if (sounds.empty())
        sounds.push_back(signal::onChannels(bench::programme(48000), 2, 48000));
    return sounds;
}

hosting::FaultOr<Sounds> heard(const hosting::Location& location, const Sounds& sounds,
                               const std::stop_token& cancel)
{
    auto instance = hosting::openInstance(location, {.channels = hosting::Channels::Stereo, .cancel = cancel});
    if (!instance)
        return tl::make_unexpected(instance.error());
    const auto values = processors::defaultValues((*instance)->info());
    Sounds all;
    for (const signal::AudioBuffer& sound : sounds) {
        auto one = audition::heardThrough(**instance, values, sound);
        if (!one)
            return tl::make_unexpected(one.error());
        all.push_back(std::move(*one));
    }
    return all;
}

KinJob::Outcome outcomeOf(const hosting::FaultOr<Sounds>& first, const hosting::FaultOr<Sounds>& second)
{
    KinJob::Outcome outcome;
    if (!first || !second) {
        outcome.fault = QString::fromStdString(hosting::sentence(first ? second.error() : first.error()));
        return outcome;
    }
    outcome.same = true;
    for (std::size_t i = 0; i < first->size() && outcome.same; ++i) {
        const auto compared = audition::compare((*first)[i], (*second)[i]);
        outcome.same = compared.same;
        outcome.residual_db = compared.residual_db;
    }
    return outcome;
}

} // namespace

KinJob::KinJob(library::Store& store, Jobs& jobs, QObject* parent)
    : QObject(parent), m_store(store), m_jobs(jobs)
{
}

void KinJob::compare(const QString& id, const QStringList& others)
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
        const Sounds sounds = soundsIn(folder);
        const auto first = heard(location, sounds, control.cancel());
        for (std::size_t i = 0; i < places.size() && !control.cancel().stop_requested(); ++i) {
            control.report(static_cast<double>(i) / static_cast<double>(places.size()));
            const auto outcome = outcomeOf(first, heard(places[i].second, sounds, control.cancel()));
            if (control.cancel().stop_requested())
                break; // cut short, it would say something else
            QMetaObject::invokeMethod(
                this, [this, id, other = places[i].first, outcome] { emit compared(id, other, outcome); });
        }
    };
    m_jobs.add(std::move(job));
}

} // namespace hr::app

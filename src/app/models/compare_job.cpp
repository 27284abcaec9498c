// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/compare_job.h"

#include <QFile>
#include <algorithm>

namespace hr::app {

CompareJob::CompareJob(LineUp& line_up, const SourceList& sources, library::Store& store, Jobs& jobs,
                       QObject* parent)
    : QObject(parent), m_line_up(line_up), m_sources(sources), m_store(store), m_jobs(jobs)
{
}

CompareJob::Compared CompareJob::asItIs(const Contender& contender)
{
    return {contender.id, contender.location, contender.values};
}

bool CompareJob::isStill(const Compared& compared) const
{
    const Contender* now = m_line_up.find(compared.id);
    return now && now->isMeasurable() && now->location == compared.location && now->values == compared.values;
}

const CompareJob::Outcome* CompareJob::outcomeOf(ContenderId id) const
{
    const auto found = std::ranges::find_if(m_outcomes, [id](const auto& one) { return one.first.id == id; });
    return found != m_outcomes.end() && isStill(m_with) && isStill(found->first) ? &found->second : nullptr;
}

void CompareJob::start(ContenderId with)
{
    const Contender* reference = m_line_up.find(with);
    if (!reference || !reference->isMeasurable() || isRunning())
        return;
    m_with = asItIs(*reference);
    m_outcomes.clear();
    std::vector<Compared> others;
    for (const Contender& candidate : m_line_up.candidates())
        if (candidate.isMeasurable() && candidate.id != with)
            others.push_back(asItIs(candidate));
    const quint64 turn = ++m_turn;
    JobOrder job;
    job.title = tr("Compare with %1").arg(reference->calledHere());
    job.line = QStringLiteral("bench");
    job.owner = this;
    job.work = [this, turn, first = m_with, others,
                folder = m_store.database().directory() / "sources"](const JobControl& control) {
        const auto sounds = audition::soundsIn(folder);
        const auto heard = [&](const Compared& one) {
            return audition::heardOn(sounds, one.location, one.values, control.cancel());
        };
        const auto reference_heard = heard(first);
        for (std::size_t i = 0; i < others.size() && !control.cancel().stop_requested(); ++i) {
            control.report(static_cast<double>(i) / static_cast<double>(others.size()));
            Outcome outcome;
            QString file; // on which they are furthest apart
            if (!reference_heard) {
                outcome.fault = tr("the one compared with %1")
                                    .arg(QString::fromStdString(hosting::sentence(reference_heard.error())));
            } else if (const auto other_heard = heard(others[i])) {
                const auto most = audition::mostApart(*reference_heard, *other_heard, control.cancel());
                outcome.comparison = most.comparison;
                file = QFile::decodeName(sounds[most.on].file.c_str());
            } else {
                outcome.fault = tr("it %1").arg(QString::fromStdString(hosting::sentence(other_heard.error())));
            }
            if (control.cancel().stop_requested())
                break; // cut short, it would say something else
            QMetaObject::invokeMethod(this, [this, turn, other = others[i], outcome, file]() mutable {
                if (turn != m_turn)
                    return;
                outcome.on = file.isEmpty() ? tr("the bench's programme") : m_sources.of(file).name;
                m_outcomes.emplace_back(other, outcome);
                emit changed();
            });
        }
    };
    job.finished = [this, turn](JobEnd) {
        if (turn != m_turn)
            return;
        m_job = 0;
        emit changed();
    };
    m_job = m_jobs.add(std::move(job));
    emit changed();
}

void CompareJob::cancel()
{
    if (m_job != 0)
        m_jobs.cancel(m_job);
}

} // namespace hr::app

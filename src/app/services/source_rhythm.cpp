// SPDX-License-Identifier: GPL-3.0-or-later
#include "services/source_rhythm.h"

namespace hr::app {

SourceRhythm::SourceRhythm(Transport& transport, Jobs& jobs, QObject* parent)
    : QObject(parent), m_transport(transport), m_jobs(jobs)
{
}

void SourceRhythm::find(audition::Section section, std::function<void(const audition::Rhythm&)> then)
{
    const auto source = m_transport.source();
    if (!source)
        return;
    const auto found = std::make_shared<audition::Rhythm>();
    JobOrder job;
    job.title = tr("Find the beats of the source");
    job.line = QStringLiteral("rhythm");
    job.urgent = true;
    job.supersedes = true;
    job.owner = this;
    job.work = [found, source, section](const JobControl& control) {
        *found = audition::findRhythm(*source, section, control.cancel());
    };
    // Opened again meanwhile it is the same sound, as long as its frames are.
    job.finished = [this, found, file = m_transport.sourceFile(), rate_hz = m_transport.rateHz(),
                    then = std::move(then)](JobEnd end) {
        if (end == JobEnd::Done && m_transport.sourceFile() == file && m_transport.rateHz() == rate_hz)
            then(*found);
    };
    m_jobs.add(std::move(job));
}

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/delivery_job.h"

#include <QFile>

namespace hr::app {

DeliveryJob::DeliveryJob(ChainDraft& draft, Transport& transport, library::Store& store, Jobs& jobs,
                         QObject* parent)
    : QObject(parent), m_draft(draft), m_transport(transport), m_store(store), m_jobs(jobs)
{
    connect(&m_draft, &ChainDraft::changed, this, &DeliveryJob::somethingChanged);
    connect(&m_transport, &Transport::sourceChanged, this, &DeliveryJob::somethingChanged);
}

void DeliveryJob::somethingChanged()
{
    if (!m_writes)
        forget();
}

void DeliveryJob::forget()
{
    m_writes = false;
    ++m_turn;
    if (m_job != 0)
        m_jobs.cancel(std::exchange(m_job, 0));
    m_file.reset();
    m_written.clear();
    m_why_none.clear();
    m_several.clear();
    m_progress = 0;
    emit changed();
}

JobOrder DeliveryJob::jobFor(const QString& title)
{
    JobOrder job;
    job.title = title;
    job.line = QStringLiteral("bench");
    job.awaited = true;
    job.owner = this;
    return job;
}

Result<audition::Delivered> DeliveryJob::through(const ChainOpening& opening,
                                                 const std::filesystem::path& source,
                                                 const std::filesystem::path& to,
                                                 const audition::DeliveryFormat& format,
                                                 const std::stop_token& cancel)
{
    auto opened = opening.open(opening.chain(), cancel);
    if (!opened)
        return tl::make_unexpected(opened.error());
    if (!*opened)
        return audition::Delivered{opened->error(), {}, 0};
    const audition::DeliveryChain chain{(*opened)->instance.get(), (*opened)->values, cancel};
    return to.empty() ? audition::tryDelivery(source, chain) : audition::deliver(source, chain, to, format);
}

void DeliveryJob::startSeveral(const std::vector<audition::DeliveryPlace>& places,
                               const audition::DeliveryFormat& format)
{
    if (isRunning() || places.empty())
        return;
    forget();
    m_writes = true;
    const auto done = std::make_shared<std::vector<One>>();
    JobOrder job = jobFor(tr("Write %1 sources").arg(places.size()));
    job.work = [done, places, format,
                opening = std::make_shared<ChainOpening>(m_draft.chain(), m_store)](const JobControl& control) {
        for (const audition::DeliveryPlace& place : places) {
            if (control.cancel().stop_requested())
                return;
            const auto delivered = through(*opening, place.source, place.written, format, control.cancel());
            if (control.cancel().stop_requested())
                return; // it was not written
            done->push_back(One{place, {}, {}});
            if (!delivered)
                done->back().why_none = inWords(delivered.error());
            else if (delivered->fault)
                done->back().why_none = inWords(*delivered->fault);
            else
                done->back().file = delivered->file;
            control.report(static_cast<double>(done->size()) / static_cast<double>(places.size()));
        }
    };
    job.progressed = [this, turn = m_turn](double progress) {
        if (turn != m_turn)
            return;
        m_progress = progress;
        emit changed();
    };
    job.finished = [this, done, turn = m_turn](JobEnd) {
        if (turn != m_turn)
            return;
        m_job = 0;
        m_several = std::move(*done); // of those that were done before it was cancelled, too
        emit changed();
    };
    m_job = m_jobs.add(std::move(job));
    emit changed();
}

void DeliveryJob::start(const QString& file, const audition::DeliveryFormat& format)
{
    if (isRunning())
        return;
    forget();
    m_writes = !file.isEmpty();
    const std::filesystem::path source = QFile::encodeName(m_transport.sourceFile()).toStdString();
    if (source.empty()) {
        m_why_none = tr("There is no file to deliver: choose a source below.");
        return emit changed();
    }
    const auto found = std::make_shared<Found>();
    JobOrder job = jobFor(file.isEmpty() ? tr("Check the delivery") : tr("Write %1").arg(file));
    job.work = [found, source, format, to = QFile::encodeName(file).toStdString(),
                opening = std::make_shared<ChainOpening>(m_draft.chain(), m_store)](const JobControl& control) {
        found->delivered = through(*opening, source, to, format, control.cancel());
    };
    job.finished = [this, found, file, turn = m_turn](JobEnd end) {
        if (turn == m_turn)
            finished(file, *found, end);
    };
    m_job = m_jobs.add(std::move(job));
    emit changed();
}

void DeliveryJob::finished(const QString& file, const Found& found, JobEnd end)
{
    m_job = 0;
    if (end == JobEnd::Done) {
        if (!found.delivered)
            m_why_none = inWords(found.delivered.error());
        else if (found.delivered->fault)
            m_why_none = inWords(*found.delivered->fault);
        else {
            m_file = found.delivered->file;
            m_written = file;
        }
    }
    emit changed();
}

void DeliveryJob::cancel()
{
    if (m_job != 0)
        m_jobs.cancel(m_job);
}

} // namespace hr::app

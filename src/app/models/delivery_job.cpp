// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/delivery_job.h"

#include <QFile>

namespace hr::app {

DeliveryJob::DeliveryJob(ChainDraft& draft, Transport& transport, library::Store& store, Jobs& jobs,
                         QObject* parent)
    : QObject(parent), m_draft(draft), m_transport(transport), m_store(store), m_jobs(jobs)
{
    connect(&m_draft, &ChainDraft::changed, this, &DeliveryJob::forget);
    connect(&m_transport, &Transport::sourceChanged, this, &DeliveryJob::forget);
}

void DeliveryJob::forget()
{
    ++m_turn;
    if (m_job != 0)
        m_jobs.cancel(std::exchange(m_job, 0));
    m_file.reset();
    m_written.clear();
    m_why_none.clear();
    emit changed();
}

void DeliveryJob::start(const QString& file, const audition::DeliveryFormat& format)
{
    if (isRunning())
        return;
    forget();
    const std::filesystem::path source = QFile::encodeName(m_transport.sourceFile()).toStdString();
    if (source.empty()) {
        m_why_none = tr("There is no file to deliver: choose a source below.");
        return emit changed();
    }
    const auto found = std::make_shared<Found>();
    JobOrder job;
    job.title = file.isEmpty() ? tr("Check the delivery") : tr("Write %1").arg(file);
    job.line = QStringLiteral("bench");
    job.awaited = true;
    job.owner = this;
    job.work = [found, source, format, to = QFile::encodeName(file).toStdString(),
                opening = std::make_shared<ChainOpening>(m_draft.chain(), m_store)](const JobControl& control) {
        auto opened = opening->open(opening->chain(), control.cancel());
        if (!opened) {
            found->delivered = tl::make_unexpected(opened.error());
            return;
        }
        if (!*opened) {
            found->delivered = audition::Delivered{opened->error(), {}, 0};
            return;
        }
        const audition::DeliveryChain chain{(*opened)->instance.get(), (*opened)->values, control.cancel()};
        found->delivered =
            to.empty() ? audition::tryDelivery(source, chain) : audition::deliver(source, chain, to, format);
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

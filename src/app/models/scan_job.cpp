// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/scan_job.h"

#include "library/store.h"

namespace hr::app {

ScanJob::ScanJob(std::filesystem::path data_directory, Jobs& jobs, QObject* parent)
    : QObject(parent), m_data_directory(std::move(data_directory)), m_jobs(jobs)
{
}

QString ScanJob::inWords(const library::ScanReport& report)
{
    QString words = tr("%1 installed processors: %2 new, %3 changed, %4 in quarantine; %5 s.")
                        .arg(report.found)
                        .arg(report.added)
                        .arg(report.changed)
                        .arg(report.quarantined.size())
                        .arg(report.seconds, 0, 'f', 1);
    if (report.cancelled)
        words = tr("The scan was cancelled: %1 new and %2 changed so far. What was not tried is tried at the "
                   "next one.")
                    .arg(report.added)
                    .arg(report.changed);
    if (!report.claimed_twice.isEmpty())
        words += tr(" %1 is in two bundles: the first by its path is used.").arg(report.claimed_twice.front());
    return words;
}

/// Whether it is worth a word to somebody who did not ask.
bool ScanJob::isNews(const library::ScanReport& report)
{
    return report.added > 0 || report.changed > 0 || report.cancelled;
}

void ScanJob::start(StartedBy by)
{
    if (isRunning())
        return;
    const auto report = std::make_shared<Result<library::ScanReport>>();
    JobOrder job;
    job.title = tr("Scan the folders");
    job.line = QStringLiteral("scan");
    job.owner = this;
    job.work = [this, report, directory = m_data_directory](const JobControl& control) {
        auto store = library::Store::open(directory);
        if (!store) {
            *report = tl::make_unexpected(store.error());
            return;
        }
        library::ScanOptions options;
        auto folders = (*store)->folders.used();
        if (!folders) {
            *report = tl::make_unexpected(folders.error());
            return;
        }
        options.folders = std::move(*folders);
        options.control.cancel = control.cancel();
        options.progress = [this, &control](int done, int of, const QString& bundle) {
            control.report(static_cast<double>(done) / std::max(of, 1));
            emit progress(done, of, bundle); // queued, since this is another thread
        };
        *report = library::scan((*store)->catalogue, options);
    };
    job.finished = [this, report, by](JobEnd end) {
        m_job = 0;
        if (end == JobEnd::Cancelled && !*report) {
            emit finished(tr("The scan was cancelled before it found anything."));
            return;
        }
        if (!*report)
            emit failed(QString::fromStdString(report->error().text));
        else
            emit finished(by == StartedBy::Somebody || isNews(**report) ? inWords(**report) : QString());
    };
    m_job = m_jobs.add(std::move(job));
}

void ScanJob::tryAgain(const QStringList& ids)
{
    const auto report = std::make_shared<Result<library::TriedAgain>>();
    JobOrder job;
    job.title = ids.size() == 1 ? tr("Try one again") : tr("Try %1 again").arg(ids.size());
    job.line = QStringLiteral("scan");
    job.owner = this;
    job.work = [report, ids, directory = m_data_directory](const JobControl& control) {
        auto store = library::Store::open(directory);
        *report = store ? library::tryAgain((*store)->catalogue, ids, {},
                                            [&control](double done) { control.report(done); }, control.cancel())
                        : tl::make_unexpected(store.error());
    };
    job.finished = [this, report](JobEnd end) {
        if (end == JobEnd::Cancelled && !*report)
            return;
        if (!*report)
            emit failed(QString::fromStdString(report->error().text));
        else
            emit finished(tr("Tried again: %1 out of quarantine, %2 still failing.")
                              .arg((*report)->now_well)
                              .arg((*report)->still_failing));
    };
    m_jobs.add(std::move(job));
}

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/scan_job.h"

#include "library/store.h"

namespace hr::app {

ScanJob::ScanJob(std::filesystem::path data_directory, QObject* parent)
    : QObject(parent), m_data_directory(std::move(data_directory))
{
}

ScanJob::~ScanJob()
{
    m_cancel = true;
}

void ScanJob::start()
{
    if (m_running)
        return;
    m_running = true;
    m_cancel = false;
    m_thread = std::jthread([this] {
        const auto report = [&]() -> Result<library::ScanReport> {
            auto store = library::Store::open(m_data_directory);
            if (!store)
                return tl::make_unexpected(store.error());
            library::ScanOptions options;
            options.folders = hosting::searchFolders();
            options.control.cancel = &m_cancel;
            options.progress = [this](int done, int of, const QString& bundle) {
                emit progress(done, of, bundle);
            };
            return library::scan((*store)->catalogue, options);
        }();
        QMetaObject::invokeMethod(this, [this, report] {
            m_running = false;
            if (!report)
                emit failed(QString::fromStdString(report.error().text));
            else
                emit finished(tr("%1 installed processors: %2 new, %3 changed, %4 in quarantine.")
                                  .arg(report->found)
                                  .arg(report->added)
                                  .arg(report->changed)
                                  .arg(report->quarantined.size()));
        });
    });
}

} // namespace hr::app

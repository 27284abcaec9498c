// SPDX-License-Identifier: GPL-3.0-or-later
//
// A scan in the background, on a connection of its own.
#pragma once

#include "library/scan.h"

#include "models/jobs.h"

namespace hr::app {

class ScanJob : public QObject {
    Q_OBJECT
public:
    ScanJob(std::filesystem::path data_directory, Jobs& jobs, QObject* parent = nullptr);

    void start();
    /// Those in quarantine once more; finished() follows as after a scan.
    void tryAgain(const QStringList& ids);
    void cancel() { m_jobs.cancel(m_job); }
    bool isRunning() const { return m_job != 0; }
    /// One sentence.
    static QString inWords(const library::ScanReport& report);

signals:
    void progress(int done, int of, const QString& bundle);
    /// One sentence; the catalogue has changed.
    void finished(const QString& summary);
    void failed(const QString& why);

private:
    const std::filesystem::path m_data_directory;
    Jobs& m_jobs;
    Jobs::Id m_job = 0; // 0: none
};

} // namespace hr::app

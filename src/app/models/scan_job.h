// SPDX-License-Identifier: GPL-3.0-or-later
//
// A scan in the background, on a connection of its own.
#pragma once

#include "library/scan.h"

#include "jobs/jobs.h"

namespace hr::app {

class ScanJob : public QObject {
    Q_OBJECT
public:
    ScanJob(std::filesystem::path data_directory, Jobs& jobs, QObject* parent = nullptr);

    enum class StartedBy {
        Somebody, ///< who wants to know what came of it
        Nobody,   ///< at a start: it speaks only of what is new
    };
    void start(StartedBy by = StartedBy::Somebody);
    /// Those in quarantine once more; finished() follows as after a scan.
    void tryAgain(const QStringList& ids);
    void cancel() { m_jobs.cancel(m_job); }
    bool isRunning() const { return m_job != 0; }
    /// One sentence.
    static QString inWords(const library::ScanReport& report);

signals:
    void progress(int done, int of, const QString& bundle);
    /// One sentence, empty where there is nothing to tell; the catalogue has changed.
    void finished(const QString& summary);
    void failed(const QString& why);

private:
    static bool isNews(const library::ScanReport& report);

    const std::filesystem::path m_data_directory;
    Jobs& m_jobs;
    Jobs::Id m_job = 0; // 0: none
};

} // namespace hr::app

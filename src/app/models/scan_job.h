// SPDX-License-Identifier: GPL-3.0-or-later
//
// A scan in the background, on a connection of its own.
#pragma once

#include "library/scan.h"

#include <QObject>
#include <thread>

namespace hr::app {

class ScanJob : public QObject {
    Q_OBJECT
public:
    explicit ScanJob(std::filesystem::path data_directory, QObject* parent = nullptr);
    ~ScanJob() override;

    void start();
    void cancel() { m_cancel = true; }
    bool isRunning() const { return m_running; }

signals:
    void progress(int done, int of, const QString& bundle);
    /// One sentence; the catalogue has changed.
    void finished(const QString& summary);
    void failed(const QString& why);

private:
    const std::filesystem::path m_data_directory;
    std::atomic<bool> m_cancel{false};
    bool m_running = false;
    std::jthread m_thread;
};

} // namespace hr::app

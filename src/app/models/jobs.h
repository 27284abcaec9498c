// SPDX-License-Identifier: GPL-3.0-or-later
//
// What is done in the background: in order, as much at once as there are cores, each with its progress, and
// each to be cancelled or put first. Belongs to the interface's thread; only `work` runs on others.
#pragma once

#include <QObject>
#include <QPointer>
#include <QThreadPool>
#include <atomic>
#include <functional>
#include <memory>
#include <vector>

namespace hr::app {

/// What a job in hand is given.
class JobControl {
public:
    JobControl(std::shared_ptr<std::atomic<bool>> cancelled, std::function<void(double)> report)
        : m_cancelled(std::move(cancelled)), m_report(std::move(report))
    {
    }
    std::atomic<bool>* cancelled() const { return m_cancelled.get(); }
    /// 0 to 1, from any thread.
    void report(double progress) const { m_report(progress); }

private:
    std::shared_ptr<std::atomic<bool>> m_cancelled;
    std::function<void(double)> m_report;
};

struct JobOrder {
    QString title;                               ///< for the list of jobs; empty: not listed
    QString line;                                ///< jobs of one line run one after the other; empty: no line
    bool urgent = false;                         ///< before all that is not
    std::function<void(const JobControl&)> work; ///< on a thread of the pool; may use nothing of the interface
    QObject* owner = nullptr;                    ///< once it is gone nothing is called
    std::function<void(bool ran)> finished = {}; ///< `ran` is false where it was cancelled before it began
    std::function<void(double)> progressed = {};
};

class Jobs : public QObject {
    Q_OBJECT
public:
    using Number = quint64;

    explicit Jobs(QObject* parent = nullptr);
    ~Jobs() override;

    Number add(JobOrder order);
    /// One that waits is taken out; one that runs is asked to stop.
    void cancel(Number number);
    void putFirst(Number number);

    struct Listed {
        Number number = 0;
        QString title;
        bool running = false;
        double progress = 0;
    };
    /// Those with a title, the running ones first, then in their order.
    std::vector<Listed> list() const;

signals:
    void changed();

private:
    struct Job {
        Number number = 0;
        JobOrder order;
        QPointer<QObject> owner;
        std::shared_ptr<std::atomic<bool>> cancelled;
        bool running = false;
        double progress = 0;
    };
    Job* find(Number number);
    bool lineIsBusy(const QString& line) const;
    void startNext();
    void start(Job& job);
    void finish(Number number, bool ran);

    std::vector<Job> m_jobs; // in order
    Number m_next = 1;
    QThreadPool m_urgent, m_patient; // apart, since a thread that has stood back for others stays there
};

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
//
// What is done in the background: in order, as much at once as there are cores, each with its progress, and
// each to be cancelled or put first. Belongs to the interface's thread; only `work` runs on others.
#pragma once

#include <QObject>
#include <QPointer>
#include <QThreadPool>
#include <chrono>
#include <functional>
#include <memory>
#include <stop_token>
#include <vector>

namespace hr::app {

/// What a job in hand is given.
class JobControl {
public:
    JobControl(std::stop_token cancel, std::function<void(double)> report)
        : m_cancel(std::move(cancel)), m_report(std::move(report))
    {
    }
    const std::stop_token& cancel() const { return m_cancel; }
    /// 0 to 1, from any thread.
    void report(double progress) const { m_report(progress); }

private:
    std::stop_token m_cancel;
    std::function<void(double)> m_report;
};

enum class JobEnd {
    Done,
    Cancelled, ///< before it began, or while it ran: what it has found may be part of the whole
};

struct JobOrder {
    QString title;           ///< for the list of jobs; empty: not listed
    QString line = {};       ///< jobs of one line run one after the other; empty: no line
    bool urgent = false;     ///< before all that is not
    bool awaited = false;    ///< somebody waits for it: in its line before what nobody waits for
    bool supersedes = false; ///< what else is in its line is cancelled: only the latest is wanted
    std::function<void(const JobControl&)> work; ///< on a thread of the pool; may use nothing of the interface
    QObject* owner = nullptr;                    ///< once it is gone nothing is called
    std::function<void(JobEnd end)> finished = {};
    std::function<void(double)> progressed = {};
};

class Jobs : public QObject {
    Q_OBJECT
public:
    using Id = quint64;

    explicit Jobs(QObject* parent = nullptr);
    ~Jobs() override; ///< cancels all and waits for what runs

    Id add(JobOrder order);
    /// One that waits is taken out; one that runs is asked to stop.
    void cancel(Id id);
    void putFirst(Id id);

    /// Cancels all and waits for what runs, at most so long: whether nothing runs any more. No job begins
    /// afterwards, and none calls back.
    bool endAll(std::chrono::milliseconds patience);

    struct Listed {
        Id id = 0;
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
        Id id = 0;
        JobOrder order;
        QPointer<QObject> owner;
        std::stop_source stop;
        bool running = false;
        double progress = 0;
    };
    Job* find(Id id);
    bool lineIsBusy(const QString& line) const;
    void startNext();
    void start(Job& job);
    void finish(Id id);

    std::vector<Job> m_jobs; // in order
    Id m_next = 1;
    bool m_ended = false;
    QThreadPool m_urgent, m_patient; // apart, since a thread that has stood back for others stays there
};

} // namespace hr::app

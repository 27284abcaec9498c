// SPDX-License-Identifier: GPL-3.0-or-later
//
// A hunt (library/hunt.h) in the background, a step after the other.
#pragma once

#include "library/hunt.h"
#include "library/store.h"
#include "models/jobs.h"

namespace hr::app {

class HuntJob : public QObject {
    Q_OBJECT
public:
    HuntJob(library::Store& store, Jobs& jobs, QObject* parent = nullptr);

    /// Of processors that work alone. Refuses fewer than two by notice().
    void start(const QStringList& ids);
    void stop();
    bool isRunning() const { return m_job != 0; }

signals:
    /// Before a step: how many are started together, and how many steps are left at most.
    void step(int together, int left);
    void finished(const hr::library::Hunt::Verdict& verdict);
    void notice(const QString& text);

private:
    void next();

    library::Store& m_store;
    Jobs& m_jobs;
    std::optional<library::Hunt> m_hunt;
    Jobs::Number m_job = 0; // 0: none
};

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
//
// Whether processors are the same: residuals (audition/compare.h) on every demo source, in the background.
#pragma once

#include "library/store.h"
#include "models/jobs.h"

namespace hr::app {

class KinJob : public QObject {
    Q_OBJECT
public:
    KinJob(library::Store& store, Jobs& jobs, QObject* parent = nullptr);

    /// Each of `others` against `id`, all as new.
    void compare(const QString& id, const QStringList& others);

signals:
    /// "the same", "leaves -31.2 dB", or what went wrong.
    void compared(const QString& id, const QString& other, const QString& result);

private:
    library::Store& m_store;
    Jobs& m_jobs;
};

} // namespace hr::app

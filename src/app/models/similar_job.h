// SPDX-License-Identifier: GPL-3.0-or-later
//
// Whether processors are the same: residuals (audition/compare.h) on every demo source, in the background.
#pragma once

#include "jobs/jobs.h"
#include "library/store.h"

namespace hr::app {

class SimilarJob : public QObject {
    Q_OBJECT
public:
    SimilarJob(library::Store& store, Jobs& jobs, QObject* parent = nullptr);

    /// Each of `others` against `id`, all at their defaults.
    void compare(const QString& id, const QStringList& others);

    struct Outcome {
        bool same = false;
        std::optional<double> residual_db; ///< what is left where they differ most
        QString fault;                     ///< why there is neither
    };

signals:
    void compared(const QString& id, const QString& other, const hr::app::SimilarJob::Outcome& outcome);

private:
    library::Store& m_store;
    Jobs& m_jobs;
};

} // namespace hr::app

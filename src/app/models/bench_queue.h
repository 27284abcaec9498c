// SPDX-License-Identifier: GPL-3.0-or-later
//
// Measurements waiting and under way. Each runs in the background; what it found is stored with its
// conditions as soon as it is there.
#pragma once

#include "library/store.h"

#include "models/jobs.h"

#include <QHash>

namespace hr::app {

struct BenchOrder {
    hosting::Location location;
    processors::ProcessorInfo info;
    std::vector<double> values;
    QStringList tests; ///< keys; empty: all
};

class BenchQueue : public QObject {
    Q_OBJECT
public:
    BenchQueue(library::Store& store, Jobs& jobs, QObject* parent = nullptr);

    void measure(const BenchOrder& order);
    void cancel();
    int waiting() const { return static_cast<int>(m_ordered.size()); }

    /// What the bench is doing with a processor: 0 to 1 while it runs, negative while it waits, empty
    /// otherwise.
    std::optional<double> progressOf(const QString& id) const;

signals:
    void changed();
    void measured(const QString& id);
    void cancelled(const QString& id); ///< before it began
    void notice(const QString& text);

private:
    void finished(const QString& id, const bench::Measurement& measurement);

    struct Ordered {
        Jobs::Number job = 0;
        double progress = -1;
    };

    library::Store& m_store;
    Jobs& m_jobs;
    QHash<QString, Ordered> m_ordered; // by id
};

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
//
// Measurements waiting and under way. Each runs in the background; what it found is stored with its
// conditions as soon as it is there.
#pragma once

#include "library/store.h"

#include <QObject>
#include <QThreadPool>

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
    explicit BenchQueue(library::Store& store, QObject* parent = nullptr);
    ~BenchQueue() override;

    void measure(const BenchOrder& order);
    void cancel();
    int waiting() const { return m_waiting; }

    /// What the bench is doing with a processor: 0 to 1 while it runs, negative while it waits, empty
    /// otherwise.
    std::optional<double> progressOf(const QString& id) const;

signals:
    void changed();
    void measured(const QString& id);
    void notice(const QString& text);

private:
    void finished(const QString& id, const bench::Measurement& measurement);

    library::Store& m_store;
    QThreadPool m_pool;
    std::shared_ptr<std::atomic<bool>> m_cancel;
    QHash<QString, double> m_progress;
    int m_waiting = 0;
};

} // namespace hr::app

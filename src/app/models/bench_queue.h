// SPDX-License-Identifier: GPL-3.0-or-later
//
// Measurements waiting and under way, by their set-up: the same processor at two settings is two orders. Each
// runs in the background; what it found is stored as soon as it is there.
#pragma once

#include "actions/notices.h"
#include "jobs/jobs.h"
#include "library/store.h"
#include "models/contender.h"

#include <QHash>
#include <functional>

namespace hr::app {

class BenchQueue : public QObject {
    Q_OBJECT
public:
    BenchQueue(library::Store& store, Jobs& jobs, Notices& notices, QObject* parent = nullptr);

    /// What the working set offers; everything until this is called.
    void setOffered(std::function<bool(const QString& processor)> offered) { m_offered = std::move(offered); }

    /// As it stands in the line-up, before what is measured in the background: somebody waits for it. Tests by
    /// their keys; empty: the quick ones.
    void measure(const Contender& contender, const QStringList& tests = {},
                 const bench::Conditions& conditions = {});
    /// The quick tests at their defaults, one after the other; it goes on after a restart. Those in quarantine,
    /// and those that are not offered, are passed over.
    void measureInBackground(const QStringList& processors);
    /// What a start before this one has not come to.
    void goOn();
    void cancel();
    int waiting() const { return static_cast<int>(m_ordered.size()); }

    /// What the bench is doing with a set-up (SetUp::key()) under these conditions: 0 to 1 while it runs,
    /// negative while it waits, empty otherwise.
    std::optional<double> progressOf(const QString& set_up, const bench::Conditions& conditions = {}) const;

    /// The set-up of a contender as it stands.
    library::SetUp setUpOf(const Contender& contender) const;

signals:
    void changed();

private:
    struct Order {
        hosting::Location location;
        processors::ProcessorInfo info;
        std::vector<double> values;
        QStringList tests;
        library::SetUp set_up;
        bench::Conditions conditions = {};
    };
    enum class Turn { First, Last };
    void add(const Order& order, Turn turn);
    void finished(const Order& order, const bench::Measurement& measurement);
    QStringList remembered() const;
    void remember(const QStringList& processors);

    struct Ordered {
        QString of; ///< set-up and conditions
        Jobs::Id job = 0;
        double progress = -1;
    };

    library::Store& m_store;
    Jobs& m_jobs;
    Notices& m_notices;
    std::function<bool(const QString&)> m_offered;
    QHash<QString, Ordered> m_ordered; // by set-up, conditions and tests
};

} // namespace hr::app

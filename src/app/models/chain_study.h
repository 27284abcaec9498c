// SPDX-License-Identifier: GPL-3.0-or-later
//
// What is known of the chain on Build, found in the background with the section that repeats: how loud it is
// after each stage, and what the orders of its stages do to it. Of a chain that has changed since, nothing is
// known.
#pragma once

#include "audio/transport.h"
#include "audition/along_path.h"
#include "jobs/jobs.h"
#include "models/chain_draft.h"
#include "models/chain_opening.h"

#include <QTimer>

namespace hr::app {

class ChainStudy : public QObject {
    Q_OBJECT
public:
    ChainStudy(ChainDraft& draft, Transport& transport, library::Store& store, Jobs& jobs,
               QObject* parent = nullptr);

    /// Levels along the chain are kept current while they are wanted.
    void keepLevels(bool wanted);
    /// Empty until they are known.
    const std::vector<audition::PathPoint>& levels() const { return m_levels; }
    /// Why there are none; empty while they are on their way.
    const QString& whyNoLevels() const { return m_why_no_levels; }

    void compareOrders();
    void cancelOrders();
    bool isComparing() const { return m_orders_job != 0; }
    double comparingProgress() const { return m_orders_progress; }
    /// Null: not compared as the chain is.
    const audition::Orders* orders() const { return m_orders ? &*m_orders : nullptr; }
    const QString& whyNoOrders() const { return m_why_no_orders; }

signals:
    void levelsChanged();
    void ordersChanged();

private:
    /// As it was when it was asked about.
    struct Asked {
        ChainOpening chain;
        std::shared_ptr<const audition::Source> source;
        audition::Section section;
    };
    std::shared_ptr<const Asked> asked() const;
    static Result<void> writeSection(const Asked& asked, const QString& file, const std::stop_token& cancel);
    static audition::OpenPart opener(const std::shared_ptr<const Asked>& asked, const std::stop_token& cancel);
    void forgetAll();
    void forgetOrders();
    void chainChanged();
    void findLevels();
    void levelsFound(const Result<hosting::FaultOr<audition::AlongPath>>& found);
    void ordersFound(Result<hosting::FaultOr<audition::Orders>> found, JobEnd end);

    ChainDraft& m_draft;
    Transport& m_transport;
    library::Store& m_store;
    Jobs& m_jobs;
    QTimer m_soon;
    bool m_wanted = false;
    std::string m_sounding;                       // the chain without what is not heard
    quint64 m_levels_turn = 0, m_orders_turn = 0; // what is told of an earlier one is not of this
    std::vector<audition::PathPoint> m_levels;
    QString m_why_no_levels, m_why_no_orders;
    Jobs::Id m_orders_job = 0, m_levels_job = 0;
    double m_orders_progress = 0;
    std::optional<audition::Orders> m_orders;
};

} // namespace hr::app

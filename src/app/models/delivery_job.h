// SPDX-License-Identifier: GPL-3.0-or-later
//
// The whole source, or several, through the chain on Build, held against a target and written, in the
// background. What was checked is forgotten once the chain or the source changes; what is being written, or
// was, is of the chain as it was, and stays until something else is asked for.
#pragma once

#include "audio/transport.h"
#include "audition/delivery.h"
#include "audition/delivery_places.h"
#include "jobs/jobs.h"
#include "models/chain_draft.h"
#include "models/chain_opening.h"

namespace hr::app {

class DeliveryJob : public QObject {
    Q_OBJECT
public:
    DeliveryJob(ChainDraft& draft, Transport& transport, library::Store& store, Jobs& jobs,
                QObject* parent = nullptr);

    /// Writes nothing where `file` is empty.
    void start(const QString& file = {}, const audition::DeliveryFormat& format = {});
    /// Each to its place, one after the other; what cannot be delivered is told with the others.
    void startSeveral(const std::vector<audition::DeliveryPlace>& places,
                      const audition::DeliveryFormat& format);
    void cancel(); ///< what is written whole by then stays
    bool isRunning() const { return m_job != 0; }

    /// What was written or, where nothing was, what would be; null until it is known. Any target may be held
    /// against it.
    const audition::DeliveredFile* file() const { return m_file ? &*m_file : nullptr; }
    const QString& written() const { return m_written; } ///< empty: nothing was
    const QString& whyNone() const { return m_why_none; }
    struct One {
        audition::DeliveryPlace place;
        std::optional<audition::DeliveredFile> file;
        QString why_none; ///< empty: there is a file
    };
    /// Of several, those that are done; empty where one was asked for.
    const std::vector<One>& several() const { return m_several; }
    double progress() const { return m_progress; } ///< 0 to 1, of several

signals:
    void changed();

private:
    struct Found {
        Result<audition::Delivered> delivered = wrongRequest("");
    };
    JobOrder jobFor(const QString& title);
    static Result<audition::Delivered> through(const ChainOpening& opening, const std::filesystem::path& source,
                                               const std::filesystem::path& to,
                                               const audition::DeliveryFormat& format,
                                               const std::stop_token& cancel);
    void somethingChanged();
    void forget();
    void finished(const QString& file, const Found& found, JobEnd end);

    ChainDraft& m_draft;
    Transport& m_transport;
    library::Store& m_store;
    Jobs& m_jobs;
    Jobs::Id m_job = 0;
    quint64 m_turn = 0; // what is told of an earlier one is not of this
    std::optional<audition::DeliveredFile> m_file;
    QString m_written, m_why_none;
    std::vector<One> m_several;
    double m_progress = 0;
    bool m_writes = false; // else it is checked alone
};

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
//
// While a return or the sum is worked on, what goes into it is the source: all that is sent to it, or all parts
// together. It is made in the background, again whenever something of that changes.
#pragma once

#include "jobs/jobs.h"
#include "jobs/soon.h"
#include "models/parts_draft.h"

namespace hr::app {

inline constexpr int parts_rest_ms = 400; ///< after what a hand moves, their sound is made again

class PartsSource : public QObject {
    Q_OBJECT
public:
    PartsSource(PartsDraft& parts, Transport& transport, library::Store& store, Jobs& jobs,
                QObject* parent = nullptr);

    /// Whether what plays is what goes into that which is worked on.
    bool isTheSource() const;
    bool isPending() const { return m_job != 0 || m_soon.isActive(); }

signals:
    void changed();
    void notice(const QString& text);

private:
    std::string whatGoesIn() const;
    QString fileOf(const std::string& id) const;
    void follow();
    void make();

    PartsDraft& m_parts;
    Transport& m_transport;
    library::Store& m_store;
    Jobs& m_jobs;
    const QString m_folder;
    std::string m_worked; // of which it was made, or is being made; empty: none
    std::string m_made_of;
    Jobs::Id m_job = 0;
    Soon m_soon;
};

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
//
// How all that is measured behaves, read from the catalogue in the background, on a connection of its own.
#pragma once

#include "actions/notices.h"
#include "jobs/jobs.h"
#include "library/store.h"

namespace hr::app {

class MeasuredPrints : public QObject {
    Q_OBJECT
public:
    using Prints = library::Runs::Prints;

    MeasuredPrints(std::filesystem::path data_directory, Jobs& jobs, Notices& notices,
                   QObject* parent = nullptr);

    /// As last read, null before the first time. They are read again each time this is asked, and changed()
    /// follows where they have changed.
    std::shared_ptr<const Prints> latest();

signals:
    void changed();

private:
    void read();

    const std::filesystem::path m_data_directory;
    Jobs& m_jobs;
    Notices& m_notices;
    std::shared_ptr<const Prints> m_prints;
    bool m_reading = false;
    bool m_asked_again = false; // while they were being read, so that what came meanwhile may be missing
};

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
//
// Writes the journal: who was heard against whom and how fairly, what was measured, how trials ended, and what
// was turned, once it has come to rest.
#pragma once

#include "models/blind_trials.h"

#include <QTimer>

namespace hr::app {

class JournalKeeper : public QObject {
    Q_OBJECT
public:
    JournalKeeper(library::Store& store, LineUp& line_up, Transport& transport, SourceList& sources,
                  BlindTrials& trials, Notices& notices, QObject* parent = nullptr);

    std::vector<library::JournalLine> newest(int count, const QString& words = {}) const;

signals:
    void noted();

private:
    void note(const QString& kind, const QString& text);
    void noteHeard();
    void noteSettings();
    void noteMeasured();

    library::Store& m_store;
    LineUp& m_line_up;
    Transport& m_transport;
    SourceList& m_sources;
    BlindTrials& m_trials;
    Notices& m_notices;

    QTimer m_heard_soon, m_settings_soon, m_measured_soon;
    QStringList m_measured;                               // titles, since the last line about them
    std::set<ContenderId> m_heard;                        // since the line-up, source or section changed
    QString m_last_heard;                                 // so that the same is not noted again
    std::map<ContenderId, std::vector<double>> m_before;  // values when they began to be turned
    std::map<ContenderId, std::vector<double>> m_at_rest; // values that the journal knows
    const BlindTrial* m_noted_trial = nullptr;            // whose end is in the journal
};

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
//
// The tempo of the source: typed or tapped, kept for its file.
#pragma once

#include "actions/notices.h"
#include "audio/transport.h"
#include "models/source_list.h"
#include "services/source_rhythm.h"
#include "signal/tap_tempo.h"

#include <QElapsedTimer>

namespace hr::library {
class Store;
}

namespace hr::app {

class SourceTempo : public QObject {
    Q_OBJECT
public:
    SourceTempo(library::Store& store, Transport& transport, SourceList& sources, SourceRhythm& rhythm,
                Notices& notices, QObject* parent = nullptr);

    double bpm() const; ///< 0: none
    void tap();
    /// "96", "96.5 bpm"; nothing takes it away. What makes no sense is said.
    void type(const QString& text);
    /// From the sound of the section that repeats; it says how certain that is.
    void estimate();
    /// The same of this file once it plays, where one is found and none was typed or tapped.
    void estimateOf(const QString& file) { m_to_estimate = file; }

signals:
    void changed();

private:
    void set(double bpm);
    void recall();
    void estimated(const audition::Rhythm& rhythm);

    library::Store& m_store;
    Transport& m_transport;
    SourceList& m_sources;
    SourceRhythm& m_rhythm;
    Notices& m_notices;
    QString m_to_estimate; // once it plays; empty: none
    signal::TapTempo m_taps;
    QElapsedTimer m_clock;
};

} // namespace hr::app

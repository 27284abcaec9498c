// SPDX-License-Identifier: GPL-3.0-or-later
//
// Processors that ask for the tempo are told that of the source; parameters whose value was given as a note
// follow it, of candidates that were asked to.
#pragma once

#include "models/line_up.h"
#include "services/source_tempo.h"

namespace hr::app {

class TempoFollower : public QObject {
    Q_OBJECT
public:
    TempoFollower(LineUp& line_up, Transport& transport, SourceTempo& tempo, QObject* parent = nullptr);

private:
    void tell();
    void follow();

    LineUp& m_line_up;
    Transport& m_transport;
    SourceTempo& m_tempo;
    bool m_following = false;
};

} // namespace hr::app

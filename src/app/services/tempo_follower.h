// SPDX-License-Identifier: GPL-3.0-or-later
//
// Parameters whose value was given as a note follow the tempo of the source, of candidates that were asked to.
#pragma once

#include "models/line_up.h"
#include "services/source_tempo.h"

namespace hr::app {

class TempoFollower : public QObject {
    Q_OBJECT
public:
    TempoFollower(LineUp& line_up, Transport& transport, SourceTempo& tempo, QObject* parent = nullptr);

private:
    void follow();

    LineUp& m_line_up;
    SourceTempo& m_tempo;
    bool m_following = false;
};

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
//
// A number key that is held gives a short listen: with its release, what was heard before is heard again. One
// that is only pressed switches.
#pragma once

#include "models/blind_trials.h"

#include <QElapsedTimer>

namespace hr::app {

/// Looks on at the keys of the whole application; what they do is the actions'.
class ShortListen : public QObject {
    Q_OBJECT
public:
    static constexpr int held_ms = 500; ///< from when on a key counts as held

    ShortListen(LineUp& line_up, const BlindTrials& trials, QObject* parent = nullptr);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    LineUp& m_line_up;
    const BlindTrials& m_trials; // in one, keys are the trial's
    int m_key = 0;               // 0: none is down
    ContenderId m_before = audition::no_contender;
    QElapsedTimer m_since;
};

} // namespace hr::app

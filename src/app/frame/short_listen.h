// SPDX-License-Identifier: GPL-3.0-or-later
//
// A number key that is held gives a short listen: with its release, what was heard before is heard again. One
// that is only pressed switches.
#pragma once

#include "models/line_up.h"

#include <QElapsedTimer>

namespace hr::app {

class ShortListen : public QObject {
    Q_OBJECT
public:
    static constexpr int held_ms = 500; ///< from when on a key counts as held

    explicit ShortListen(LineUp& line_up, QObject* parent = nullptr);

    /// When this contender is asked for by a key.
    void pressed(int key, ContenderId before);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    LineUp& m_line_up;
    int m_key = 0; ///< 0: none is down
    ContenderId m_before = audition::no_contender;
    QElapsedTimer m_since;
};

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
#include "frame/short_listen.h"

#include <QCoreApplication>
#include <QKeyEvent>

namespace hr::app {

ShortListen::ShortListen(LineUp& line_up, QObject* parent) : QObject(parent), m_line_up(line_up)
{
    QCoreApplication::instance()->installEventFilter(this);
}

void ShortListen::pressed(int key, ContenderId before)
{
    if (m_key == key)
        return; // it repeats while it is held
    m_key = key;
    m_before = before;
    m_since.start();
}

bool ShortListen::eventFilter(QObject* watched, QEvent* event)
{
    if (m_key != 0 && event->type() == QEvent::KeyRelease) {
        const auto* key = static_cast<QKeyEvent*>(event);
        if (key->key() == m_key && !key->isAutoRepeat()) {
            m_key = 0;
            if (m_since.elapsed() >= held_ms)
                m_line_up.hear(m_before);
        }
    }
    return QObject::eventFilter(watched, event);
}

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
#include "frame/short_listen.h"

#include <QCoreApplication>
#include <QKeyEvent>

namespace hr::app {

ShortListen::ShortListen(LineUp& line_up, const BlindTrials& trials, QObject* parent)
    : QObject(parent), m_line_up(line_up), m_trials(trials)
{
    QCoreApplication::instance()->installEventFilter(this);
}

bool ShortListen::eventFilter(QObject* watched, QEvent* event)
{
    // The former comes before a key does anything.
    if (event->type() != QEvent::ShortcutOverride && event->type() != QEvent::KeyRelease)
        return QObject::eventFilter(watched, event);
    const auto* key = static_cast<QKeyEvent*>(event);
    if (key->isAutoRepeat() || key->key() < Qt::Key_0 || key->key() > Qt::Key_0 + LineUp::most_candidates)
        return QObject::eventFilter(watched, event);
    if (event->type() == QEvent::ShortcutOverride) {
        m_key = key->key();
        m_before = m_line_up.wanted();
        m_since.start();
    } else if (key->key() == m_key) {
        m_key = 0;
        if (m_since.elapsed() >= held_ms && !m_trials.isRunning())
            m_line_up.hear(m_before);
    }
    return QObject::eventFilter(watched, event);
}

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
//
// What the user is told, whoever has something to say.
#pragma once

#include "signal/result.h"

#include <QObject>
#include <QString>

namespace hr::app {

class Notices : public QObject {
    Q_OBJECT
public:
    /// One sentence: what happened, what it means, what to do.
    void say(const QString& text) { emit told(text); }
    /// Whether it went well; if not, it is said.
    template<class T>
    bool succeeded(const Result<T>& result)
    {
        if (!result)
            say(QString::fromStdString(result.error().text));
        return result.has_value();
    }

signals:
    void told(const QString& text);
};

} // namespace hr::app

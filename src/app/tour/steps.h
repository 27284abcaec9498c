// SPDX-License-Identifier: GPL-3.0-or-later
//
// Things that are done one after the other, with waits between, while the program goes on as ever: a timer
// takes the next step.
#pragma once

#include "signal/result.h"

#include <QTimer>
#include <deque>
#include <functional>

namespace hr::app {

class Steps : public QObject {
    Q_OBJECT
public:
    Steps();

    void then(const std::function<void()>& go);
    /// The same with what may fail, which ends it.
    void attempt(std::function<Result<void>()> go);
    /// Until this holds; `what` says what was waited for in vain.
    void wait(const char* what, std::function<bool()> holds);
    void pause(int ms);

    void start();

signals:
    /// After the last one, or the first that failed: then with the reason.
    void finished(const QString& why_not);

private:
    struct Step {
        std::function<Result<void>()> go;
        std::function<bool()> holds;
        std::string what;
        int most_ms;
    };
    void next();
    void look();

    std::deque<Step> m_steps;
    QTimer m_timer;
    int m_waited_ms = 0;
};

} // namespace hr::app

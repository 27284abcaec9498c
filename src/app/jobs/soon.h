// SPDX-License-Identifier: GPL-3.0-or-later
//
// Something that is done once a hand rests: start() puts it off again, stop() drops it. A member of whoever
// does it.
#pragma once

#include <QTimer>
#include <functional>

namespace hr::app {

class Soon : public QTimer {
public:
    Soon(int after_ms, const std::function<void()>& work)
    {
        setSingleShot(true);
        setInterval(after_ms);
        callOnTimeout(work);
    }
};

} // namespace hr::app

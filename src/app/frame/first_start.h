// SPDX-License-Identifier: GPL-3.0-or-later
//
// What goes on behind the window once it is there: the demo's sounds where they are wanted, the scan, and,
// where nothing is measured yet, the pictures of what is in sight.
#pragma once

#include "frame/main_window.h"

namespace hr::app {

class FirstStart : public QObject {
    Q_OBJECT
public:
    FirstStart(Desk& desk, MainWindow& window);

    /// Puts something into the data directory, in the background.
    using Prepare =
        std::function<Result<void>(const std::function<void(double)>& progress, const std::stop_token& cancel)>;
    /// `prepare` (which may be none) under this title, then the scan; `prepared` in between.
    void run(const QString& title, const Prepare& prepare, const std::function<void()>& prepared);
    void run();

private:
    void takeFirstSource();
    void scanned();

    Desk& m_desk;
    MainWindow& m_window;
};

} // namespace hr::app

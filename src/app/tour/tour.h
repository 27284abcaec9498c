// SPDX-License-Identifier: GPL-3.0-or-later
//
// Walks through the pages with the demo data, as a person would, and saves a picture of each: what
// docs/screenshots/ holds.
#pragma once

#include "frame/main_window.h"

namespace hr::app {

class Tour {
public:
    Tour(Desk& desk, MainWindow& window, QString folder)
        : m_desk(desk), m_window(window), m_folder(std::move(folder))
    {
    }

    /// Takes some ten seconds. An Error names what did not come about.
    Result<void> run();

private:
    Result<void> walk();
    Result<void> picture(const QString& name);

    Desk& m_desk;
    MainWindow& m_window;
    QString m_folder;
};

} // namespace hr::app

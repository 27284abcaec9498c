// SPDX-License-Identifier: GPL-3.0-or-later
//
// Walks through the pages with the demo data, as a person would, and saves a picture of each: what
// docs/screenshots/ holds.
#pragma once

#include "frame/main_window.h"

namespace hr::app {

class Tour {
public:
    /// `only`: names of pictures; empty: all of them.
    Tour(Desk& desk, MainWindow& window, QString folder, QStringList only = {})
        : m_desk(desk), m_window(window), m_folder(std::move(folder)), m_only(std::move(only))
    {
    }

    /// Takes some two minutes for all pictures. An Error names what did not come about.
    Result<void> run();

private:
    Result<void> walk();
    Result<void> picture(const QString& name);
    bool wants(const QString& name) const { return m_only.isEmpty() || m_only.contains(name); }

    Desk& m_desk;
    MainWindow& m_window;
    QString m_folder;
    QStringList m_only;
};

} // namespace hr::app

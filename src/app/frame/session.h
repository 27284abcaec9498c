// SPDX-License-Identifier: GPL-3.0-or-later
//
// Everything as it was left: page, search, line-up with settings, source and section, device, theme,
// window. Written a moment after every change and at closing, so that a crash loses next to nothing.
#pragma once

#include "frame/main_window.h"
#include "jobs/soon.h"

#include <nlohmann/json.hpp>

namespace hr::app {

class Session : public QObject {
    Q_OBJECT
public:
    /// What was stored; an empty object where nothing sensible was.
    static nlohmann::json stored(const library::Store& store);
    static audition::DeviceChoice device(const nlohmann::json& stored);

    Session(Desk& desk, MainWindow& window);

    /// Puts everything back; `stored` may be empty, then the first source is loaded.
    void restore(const nlohmann::json& stored);
    void save();

private:
    nlohmann::json now() const;
    static nlohmann::ordered_json fromEarlier(const nlohmann::json& line_up);
    void restoreLineUp(const nlohmann::json& stored);
    void restoreSource(const nlohmann::json& stored);

    Desk& m_desk;
    MainWindow& m_window;
    Soon m_soon;
};

} // namespace hr::app

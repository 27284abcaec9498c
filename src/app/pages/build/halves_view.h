// SPDX-License-Identifier: GPL-3.0-or-later
//
// Finds the stage that hums, clicks, delays or clips: half of those that may be it are bypassed, and the user
// says whether it is still heard.
#pragma once

#include "chain/halves.h"
#include "pages/build/build_services.h"

#include <QWidget>

class QLabel;

namespace hr::app {

class Button;

class HalvesView : public QWidget {
    Q_OBJECT
public:
    explicit HalvesView(const BuildServices& services, QWidget* parent = nullptr);

signals:
    void found(const QString& stage);

private:
    void begin();
    void answer(bool still_heard);
    void goOn();
    void reload();
    QString namesOf(const std::vector<std::string>& stages) const;
    std::vector<std::string> stagesOn() const;

    const BuildServices m_services;
    std::optional<chain::Halves> m_search;
    std::vector<std::string> m_of; // the stages it was begun with
    QLabel* m_told;
    Button *m_begin, *m_still, *m_gone, *m_back;
};

} // namespace hr::app

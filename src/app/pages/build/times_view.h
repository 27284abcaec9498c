// SPDX-License-Identifier: GPL-3.0-or-later
//
// Note values at the tempo of the source, as times and as rates: a click puts one into the parameter in hand.
// Of a room, what its measured decay and pre-delay are nearest to, and a click that makes them so.
#pragma once

#include "pages/build/build_services.h"

#include "processors/fitted_time.h"

#include <QWidget>
#include <map>

class QLabel;
class QTableWidget;

namespace hr::app {

class Button;

class TimesView : public QWidget {
    Q_OBJECT
public:
    explicit TimesView(const BuildServices& services, QWidget* parent = nullptr);

    /// Whose times are proposed.
    void setStage(const QString& stage);

signals:
    void chosen(const QString& note);

private:
    void reload();
    void propose();
    void proposeFor(Button* button, processors::RoomTime what, const QString& words,
                    std::optional<double> measured_ms);

    const BuildServices m_services;
    std::string m_stage;
    QLabel* m_told;
    Button* m_decay;
    Button* m_predelay;
    std::map<const Button*, processors::FittedTime> m_proposed;
    QTableWidget* m_table;
};

} // namespace hr::app

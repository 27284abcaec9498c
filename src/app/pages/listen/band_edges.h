// SPDX-License-Identifier: GPL-3.0-or-later
//
// From where to where the band reaches that everything is matched in, or that is heard alone; seen only while
// one of the two is.
#pragma once

#include "pages/listen/listen_services.h"

namespace hr::app {

class ParameterRow;

class BandEdges : public QWidget {
    Q_OBJECT
public:
    explicit BandEdges(const ListenServices& services, QWidget* parent = nullptr);

private:
    void setBand(double audition::Band::*moved, double hz);
    void showRule();

    const ListenServices m_services;
    ParameterRow* m_low = nullptr;
    ParameterRow* m_high = nullptr;
};

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
//
// The right side of a row: how loud it was, what the matching took or the user has set instead, how fair that
// is, and how far it is from the reference.
#pragma once

#include "pages/listen/listen_services.h"

class QLabel;

namespace hr::app {

class ParameterRow;

class LoudnessColumn : public QWidget {
    Q_OBJECT
public:
    LoudnessColumn(const ListenServices& services, const Contender& contender, QWidget* parent = nullptr);

    void show(const Contender& contender);
    QString stateText() const;

private:
    QString matchText(const Contender& contender) const;
    QString differenceText(const Contender& contender) const;
    void setByHand(double gain_db);

    const ListenServices m_services;
    const ContenderId m_id;
    QLabel* m_before = nullptr;
    QLabel* m_switched_in = nullptr; // what it would gain or lose unmatched
    ParameterRow* m_gain = nullptr;
    QLabel* m_state = nullptr;
    QLabel* m_difference = nullptr;
};

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
//
// How the comparison is made, as a sentence: how many candidates, against what, matched by what.
#pragma once

#include "pages/listen/listen_services.h"

class QComboBox;

namespace hr::app {

class ElidedLabel;

class ComparisonLine : public QWidget {
    Q_OBJECT
public:
    explicit ComparisonLine(const ListenServices& services, QWidget* parent = nullptr);

private:
    void addActions();
    void showContenders();
    void showRule();

    const ListenServices m_services;
    ElidedLabel* m_count = nullptr;
    QComboBox* m_reference = nullptr;
    QComboBox* m_use = nullptr;
    QComboBox* m_basis = nullptr;
};

} // namespace hr::app

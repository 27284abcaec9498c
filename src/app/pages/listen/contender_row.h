// SPDX-License-Identifier: GPL-3.0-or-later
//
// One row of the line-up: mark, name, parameters, and what its loudness was and was brought to.
#pragma once

#include "frame/desk.h"
#include "widgets/basics.h"

namespace hr::app {

class ParameterRow;

class ContenderRow : public Sheet {
    Q_OBJECT
public:
    ContenderRow(Desk& desk, int lane, QWidget* parent = nullptr);

    /// Match and heard state as they are now.
    void refresh();
    void valueChanged(int parameter);

protected:
    void mousePressEvent(QMouseEvent* event) override;

private:
    QWidget* makeName();
    QWidget* makeParameters();
    QWidget* makeLoudness();

    Desk& m_desk;
    const int m_lane;
    std::vector<ParameterRow*> m_parameters;
    QLabel* m_was = nullptr;
    QLabel* m_brought = nullptr;
    QLabel* m_state = nullptr;
};

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
//
// Listen: hear candidates fairly. One row a candidate; what is heard has a frame in the colour of
// action, and says what the matching took.
#pragma once

#include "frame/desk.h"

#include <QWidget>

class QLabel;
class QStackedLayout;
class QVBoxLayout;

namespace hr::app {

class ContenderRow;

class ListenPage : public QWidget {
    Q_OBJECT
public:
    explicit ListenPage(Desk& desk, QWidget* parent = nullptr);

private:
    void rebuild();
    void refresh();

    Desk& m_desk;
    QLabel* m_title = nullptr;
    QLabel* m_subtitle = nullptr;
    QVBoxLayout* m_column = nullptr;
    QWidget* m_empty = nullptr;
    std::vector<ContenderRow*> m_rows;
};

} // namespace hr::app

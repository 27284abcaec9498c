// SPDX-License-Identifier: GPL-3.0-or-later
//
// How one listens, alike for everyone in the line-up: both channels, one of them, the middle or the sides; 20
// dB quieter; switching by hand or by itself.
#pragma once

#include "pages/listen/listen_services.h"

class QComboBox;

namespace hr::app {

class Segments;
class Button;

class ListeningRow : public QWidget {
    Q_OBJECT
public:
    /// Adds what it can do to the actions.
    explicit ListeningRow(const ListenServices& services, QWidget* parent = nullptr);

    /// Whether the meters are there.
    void showMeters(bool on);

private:
    void addActions();
    void hearPart(LineUp::Part part);
    void openMore(QWidget* at);
    void refresh();
    void fillAlternation();

    const ListenServices m_services;
    Segments* m_listened = nullptr;
    Button* m_quieter = nullptr;
    Button* m_difference = nullptr;
    Button* m_band = nullptr;
    Button* m_meters = nullptr;
    QComboBox* m_alternation = nullptr;
};

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
//
// Listen: hear candidates fairly. One row a candidate; what is audible has a frame in the colour of
// action, and says what the matching took.
#pragma once

#include "pages/listen/listen_services.h"

#include <QElapsedTimer>
#include <QWidget>

class QStackedLayout;
class QScrollArea;
class QVBoxLayout;

namespace hr::app {

class BandEdges;
class ContenderRow;
class ElidedLabel;
class ListeningRow;
class MeterPanel;

class ListenPage : public QWidget {
    Q_OBJECT
public:
    explicit ListenPage(const ListenServices& services, QWidget* parent = nullptr);

    void showMeters(bool on);
    /// A chain, or a sound that was rendered before; nothing where it is empty.
    void addFile(const QString& file);

private:
    void reorder();
    ContenderRow* makeRow(const Contender& contender);
    void dragTo(ContenderId id, double global_y);
    void refresh();
    void showCosts();
    QWidget* makeLineUp();
    void addActions();
    void showTrial();

    ContenderRow* rowOf(ContenderId id) const;

    const ListenServices m_services;
    QStackedLayout* m_stack = nullptr; // the line-up, or a blind trial in its place
    ElidedLabel* m_title = nullptr;
    QScrollArea* m_scroll = nullptr;
    QVBoxLayout* m_column = nullptr;
    QWidget* m_empty = nullptr;
    ListeningRow* m_listening = nullptr;
    BandEdges* m_band = nullptr;
    MeterPanel* m_meters = nullptr;
    std::vector<ContenderRow*> m_rows;
    QElapsedTimer m_costs_shown; // invalid: never yet
};

} // namespace hr::app

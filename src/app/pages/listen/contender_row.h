// SPDX-License-Identifier: GPL-3.0-or-later
//
// One row of the line-up: mark, name, parameters, its loudness before and what the matching took.
#pragma once

#include "pages/listen/listen_services.h"
#include "widgets/basics.h"

#include <QTimer>

namespace hr::app {

class LoudnessColumn;
class ParameterGrid;

class ContenderRow : public Sheet {
    Q_OBJECT
public:
    ContenderRow(const ListenServices& services, const Contender& contender, QWidget* parent = nullptr);

    ContenderId id() const { return m_id; }
    /// Whether it was made for what the contender is now; otherwise another is needed.
    bool isOf(const Contender& contender) const;
    /// Match and who is audible, as they are now.
    void refresh();
    void valueChanged(std::size_t parameter);
    void settingsChanged();
    /// What it takes of a core, and its latency, as it plays.
    void showCost(const audition::Engine::LaneState& lane);

signals:
    /// Again and again while it is held.
    void dragged(double global_y);

protected:
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

private:
    void showOn(const Contender& contender);
    QLayout* makeMark(const Contender& contender);
    QWidget* makeName(const Contender& contender);
    QWidget* makePresets();
    QLayout* makeButtons(const Contender& contender);

    const ListenServices m_services;
    const ContenderId m_id;
    const std::string m_location; ///< what it was made for
    const bool m_open;
    const double m_rate_hz;
    ParameterGrid* m_parameters = nullptr;
    ElidedLabel* m_name = nullptr;
    ElidedLabel* m_maker = nullptr;
    ElidedLabel* m_cost = nullptr; // null, as the next: of the source
    QPushButton* m_on = nullptr;
    double m_pressed_y = 0;
    int m_place_before = 0; // when it was pressed
    bool m_dragged = false;
    double m_dragged_y = 0;
    QTimer m_held;
    LoudnessColumn* m_loudness = nullptr;
    ElidedLabel* m_preset = nullptr; // null: it has none to step through
};

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
//
// One row of the line-up: mark, name, parameters, its loudness before and what the matching took.
#pragma once

#include "pages/listen/listen_services.h"
#include "widgets/basics.h"

#include <QTimer>

class QGridLayout;

namespace hr::app {

class LoudnessColumn;
class ParameterRow;

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

signals:
    /// Again and again while it is held.
    void dragged(double global_y);

protected:
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    QWidget* makeName(const Contender& contender);
    QWidget* makePresets();
    QLayout* makeButtons(const Contender& contender);
    QWidget* makeParameters(const Contender& contender);
    void arrange(int columns);

    const ListenServices m_services;
    const ContenderId m_id;
    const std::string m_location; ///< what it was made for
    const bool m_open;
    const double m_rate_hz;
    std::vector<ParameterRow*> m_parameters;
    ParameterRow* m_amount = nullptr; // of the whole; null: of the source
    ParameterRow* m_return = nullptr;
    QGridLayout* m_grid = nullptr;
    int m_columns = 0;
    double m_pressed_y = 0;
    int m_place_before = 0; // when it was pressed
    bool m_dragged = false;
    double m_dragged_y = 0;
    QTimer m_held;
    LoudnessColumn* m_loudness = nullptr;
    ElidedLabel* m_preset = nullptr; // null: it has none to step through
};

} // namespace hr::app

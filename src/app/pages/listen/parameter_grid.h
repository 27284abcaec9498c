// SPDX-License-Identifier: GPL-3.0-or-later
//
// The parameters of a candidate, in as many columns as there is room for: those that are pinned, or else the
// first few where there are many; all of them a key away. Behind them its amount, or the level of its return.
#pragma once

#include "pages/listen/listen_services.h"

class QGridLayout;
class QPushButton;

namespace hr::app {

class ParameterRow;

class ParameterGrid : public QWidget {
    Q_OBJECT
public:
    /// Of more than `few`, and where nothing is pinned.
    static constexpr std::size_t seen_first = 6;
    static constexpr std::size_t few = 8; ///< with the amount, three lines of three

    ParameterGrid(const ListenServices& services, const Contender& contender, QWidget* parent = nullptr);

    void valueChanged(const Contender& contender, std::size_t parameter);
    /// What is held, pinned, limited, given as notes, and its amount.
    void show(const Contender& contender);

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    void addParameter(const Contender& contender, std::size_t parameter);
    void addMix();
    void openMenu(std::size_t parameter, const QPoint& at);
    std::vector<std::size_t> seen(const Contender& contender) const;
    void arrange();

    const ListenServices m_services;
    const ContenderId m_id;
    std::vector<ParameterRow*> m_parameters;
    ParameterRow* m_amount = nullptr; // of the whole
    ParameterRow* m_return = nullptr;
    QPushButton* m_more = nullptr; // all of them, or what is seen first
    QGridLayout* m_grid = nullptr;
    int m_columns = 1;
    std::vector<std::size_t> m_seen; // in this order
};

} // namespace hr::app

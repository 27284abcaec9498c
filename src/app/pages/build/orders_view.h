// SPDX-License-Identifier: GPL-3.0-or-later
//
// The orders of the chain's stages, those that differ most first; one of them is heard beside the others, or
// taken.
#pragma once

#include "models/chain_study.h"
#include "services/page_routes.h"

#include <QWidget>

class QLabel;
class QTableWidget;

namespace hr::app {

class Button;

class OrdersView : public QWidget {
    Q_OBJECT
public:
    struct Services {
        ChainStudy& study;
        ChainDraft& draft;
        PageRoutes& routes;
        Notices& notices;
    };
    explicit OrdersView(const Services& services, QWidget* parent = nullptr);

private:
    void reload();
    void fill(const audition::Orders& orders);
    /// The chain in the order that is chosen; empty: none is.
    std::optional<chain::Chain> chosen() const;
    QString inWords(const std::vector<std::string>& order) const;

    const Services m_services;
    QLabel* m_told;
    QTableWidget* m_table;
    Button *m_compare, *m_hear, *m_take;
    const audition::Orders* m_shown = nullptr;
};

} // namespace hr::app

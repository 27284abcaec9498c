// SPDX-License-Identifier: GPL-3.0-or-later
//
// One thing in a collection: what it is, the settings it was kept with, and where it can go.
#pragma once

#include "library/store.h"
#include "services/page_routes.h"

#include <QWidget>

namespace hr::app {

class KeptLine : public QWidget {
    Q_OBJECT
public:
    KeptLine(library::Store& store, PageRoutes& ways, const library::CollectionItem& item,
             QWidget* parent = nullptr);

signals:
    void takenAway();

private:
    void describeProcessor();
    void describeChain();
    void describeParts();
    QString nameHere(const chain::Node& stage);
    void addWays();

    library::Store& m_store;
    PageRoutes& m_ways;
    library::CollectionItem m_item;
    QString m_title;
    QStringList m_about;
    bool m_here = true; // it, or some of it, can be heard here
    bool m_whole = true;
    std::optional<chain::Chain> m_chain;
    std::optional<chain::Company> m_parts;
};

} // namespace hr::app

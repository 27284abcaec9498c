// SPDX-License-Identifier: GPL-3.0-or-later
//
// Where the paths of the chain on Build lead, edited: what runs beside a stage, what it is sent to, which part
// of the sound it gets, what its key input listens to; and the ends of paths, by hand or from a menu.
#pragma once

#include "pages/build/chain_edits.h"

#include <QMenu>

namespace hr::app {

class ChainActions;

class ChainRouting : public QObject {
    Q_OBJECT
public:
    ChainRouting(const BuildServices& services, ChainPicture& picture, ChainEdits& edits,
                 ChainActions& actions);

    /// What its key listens to, and where its path leads.
    void addTo(QMenu& menu);

private:
    void declare(ChainActions& actions);
    void addKeys(QMenu& menu, const chain::Node& stage);
    void addLeads(QMenu& menu, const chain::Node& node);
    void lead(std::size_t path, bool arrives, const QString& node);
    void leadTo(const chain::Edge& edge, bool arrives, const std::string& node);
    QString nameOf(const std::string& place) const;

    const BuildServices& m_services;
    ChainPicture& m_picture;
    ChainEdits& m_edits;
};

} // namespace hr::app

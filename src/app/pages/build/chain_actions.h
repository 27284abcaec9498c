// SPDX-License-Identifier: GPL-3.0-or-later
//
// What can be done with the stages that are chosen on Build, as declared actions, and the menu of them.
#pragma once

#include "pages/build/build_services.h"
#include "pages/build/chain_cards.h"
#include "pages/build/chain_routing.h"

#include <QMenu>

namespace hr::app {

class ChainActions : public QObject {
    Q_OBJECT
public:
    /// Keys hold within `place`, those of the clipboard and of movement within the picture.
    ChainActions(const BuildServices& services, ChainPicture& picture, SilencedRemarks& silenced,
                 QWidget* place);

    void openMenu(const QPoint& at);
    /// Put on this path, in this order.
    void insert(const QStringList& processors, std::size_t path);
    void askToInsert(std::size_t path, const QPoint& at);
    void move(const QStringList& ids, std::size_t path, bool copies);

    /// Declares "build.ID"; `needs_stage`: it says so where none is chosen.
    void add(const char* id, const QString& words, const QKeySequence& key, std::function<void()> run,
             bool in_picture = false, bool needs_stage = true);

signals:
    void silenced();

private:
    void insertStages(const std::vector<chain::Node>& stages, std::size_t path);
    void addEdits();
    void addHearing();
    void insertAt(std::optional<std::size_t> path);
    void replaceChosen();
    void copy();
    void paste();
    void putHere(const chain::Chain& other);
    void saveChosen();
    void loadHere();
    void hearPart(const chain::Edited& part, const QString& called);
    void addAlike(QMenu& menu, const chain::Node& missing);
    void setPhase(const QString& phase);
    void askPhase();

    const BuildServices m_services;
    ChainPicture& m_picture;
    SilencedRemarks& m_silenced;
    QWidget* m_place;
    ChainEdits m_edits;
    ChainRouting m_routing; // declares its actions here: after the others
};

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
//
// A search where the cursor is, for the stage that is to stand there: processors, and what was put in before
// for a purpose, with its settings. Before anything is typed those that were used lately, favourites, and every
// kind with what it is for.
#pragma once

#include "pages/build/build_services.h"
#include "widgets/search_popup.h"

#include <functional>

namespace hr::app {

class AddStage : public SearchPopup {
    Q_OBJECT
public:
    using Take = std::function<void(chain::Node stage)>;
    /// `take` is called with the stage, once; not at all where nothing is chosen. `what` says what it is for.
    static void open(const BuildServices& services, QWidget* over, const QPoint& at, const QString& what,
                     Take take);

private:
    AddStage(const BuildServices& services, QWidget* over, const QString& what, Take take);
    void fill(const QString& text);
    void addHeading(const QString& text);
    void addProcessor(const library::Entry& entry);
    void addPurpose(const chain::Node& stage);
    void addKinds();
    void take(const QListWidgetItem& item);

    const BuildServices m_services;
    std::vector<chain::Node> m_stages; // with a purpose, as they are listed
    Take m_take;
};

} // namespace hr::app

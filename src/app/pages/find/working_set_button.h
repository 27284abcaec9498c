// SPDX-License-Identifier: GPL-3.0-or-later
//
// Which working set is in use, and the menu to change it: everything, one of the user's sets, or a new one of
// what is selected, of all but that, or of what the search found.
#pragma once

#include "pages/find/find_services.h"
#include "widgets/basics.h"

class QMenu;

namespace hr::app {

class WorkingSetButton : public Button {
    Q_OBJECT
public:
    /// `selected` is asked when a set is made of it.
    WorkingSetButton(const FindServices& services, std::function<QStringList()> selected,
                     QWidget* parent = nullptr);

private:
    void openMenu();
    void addMaking(QMenu& menu);
    void makeNamed(const QString& proposed, const library::WorkingSet& set);
    void showInUse();

    const FindServices m_services;
    std::function<QStringList()> m_selected;
};

} // namespace hr::app

// SPDX-License-Identifier: GPL-3.0-or-later
//
// Ctrl+K: type part of a name: whatever can be done, and processors, to listen to them.
#pragma once

#include "actions/action_list.h"
#include "models/processor_model.h"
#include "services/page_routes.h"
#include "widgets/basics.h"
#include "widgets/search_popup.h"

#include <QPointer>
#include <vector>

namespace hr::app {

class GoAnywhere : public SearchPopup {
    Q_OBJECT
public:
    struct Services {
        ActionList& actions;
        ProcessorModel& processors;
        PageRoutes& routes;
    };
    static void open(const Services& services, QWidget* over);

private:
    GoAnywhere(const Services& services, QWidget* over);
    void fill(const QString& text);
    void go(const QListWidgetItem& item);

    void addActions(const QString& text);
    void addButtons(const QString& text);
    void addProcessors(const QString& text);

    const Services m_services;
    QWidget* m_over;
    std::vector<QPointer<Button>> m_buttons; // that are listed; they may go meanwhile
};

} // namespace hr::app

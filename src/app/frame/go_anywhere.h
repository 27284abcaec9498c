// SPDX-License-Identifier: GPL-3.0-or-later
//
// Ctrl+K: type part of a name: whatever can be done, and processors, to listen to them.
#pragma once

#include "actions/action_list.h"
#include "models/processor_model.h"
#include "services/page_routes.h"
#include "widgets/basics.h"

#include <QPointer>
#include <QWidget>
#include <vector>

class QLineEdit;
class QListWidget;

namespace hr::app {

class GoAnywhere : public QWidget {
    Q_OBJECT
public:
    struct Services {
        ActionList& actions;
        ProcessorModel& processors;
        PageRoutes& routes;
    };
    static void open(const Services& services, QWidget* over);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    GoAnywhere(const Services& services, QWidget* over);
    void fill(const QString& text);
    void go();

    void addActions(const QString& text);
    void addButtons(const QString& text);
    void addProcessors(const QString& text);

    const Services m_services;
    QWidget* m_over;
    std::vector<QPointer<Button>> m_buttons; // that are listed; they may go meanwhile
    QLineEdit* m_edit;
    QListWidget* m_list;
};

} // namespace hr::app
